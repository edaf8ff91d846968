// A ring over a turntable: the table with its mark turns by the clock, the ring hangs above it or lies on it.
import { useRef } from 'react';
import type { SceneProps } from './scenes';
import { useFrames } from '@/shared/ui/useFrames';

const X = 300;
const Y = 118;
const WIDE = 150;
/** How flat the table looks from where one stands. */
const FLAT = 0.24;

export function RingScene({ scene, elapsed, controls, onPress }: SceneProps) {
  const mark = useRef<SVGCircleElement>(null);
  const spokes = useRef<SVGPathElement>(null);
  const { angle = '0', speed = '0', slows = '0', ring } = scene;
  useFrames(`${angle} ${speed} ${slows}`, () => {
    const [omega, less] = [Number(speed), Number(slows)];
    const t = less > 0 ? Math.min(elapsed(), omega / less) : elapsed();
    const now = Number(angle) + omega * t - (less * t * t) / 2;
    mark.current?.setAttribute('cx', `${X + 0.9 * WIDE * Math.cos(now)}`);
    mark.current?.setAttribute('cy', `${Y + 0.9 * WIDE * FLAT * Math.sin(now)}`);
    const ends = [0, 1, 2].map((i) => {
      const at = now + (i * Math.PI) / 3;
      const [dx, dy] = [0.98 * WIDE * Math.cos(at), 0.98 * WIDE * FLAT * Math.sin(at)];
      return `M${X - dx} ${Y - dy}L${X + dx} ${Y + dy}`;
    });
    spokes.current?.setAttribute('d', ends.join(''));
    return omega > 0;
  });
  const press = () => {
    const control = controls.find((c) => c.act === (ring === 'on' ? 'lift' : 'drop'));
    if (control) onPress(control);
  };
  const lifted = ring === 'on' ? 6 : 62;
  return (
    <svg className="scene" viewBox="0 18 600 170" aria-hidden="true">
      <path className="scene-bench" d="M40 178H560" />
      <path className="scene-part" d={`M${X - 60} 178L${X - 44} 158H${X + 44}L${X + 60} 178ZM${X - 9} 158V${Y}H${X + 9}V158Z`} />
      <path className="scene-part" d={`M${X - WIDE} ${Y}v10a${WIDE} ${WIDE * FLAT} 0 0 0 ${2 * WIDE} 0v-10Z`} />
      <ellipse className="scene-part" cx={X} cy={Y} rx={WIDE} ry={WIDE * FLAT} />
      <path className="ring-spokes" ref={spokes} />
      <circle className="ring-mark" ref={mark} r="4.5" />
      <path className="scene-part" d={`M${X + WIDE + 26} 178V138h34v40Z`} />
      <text className="scene-label" x={X + WIDE + 43} y="162" textAnchor="middle">
        logger
      </text>
      <path className="scene-cable" d={`M${X + 9} 150C${X + 70} 170 ${X + 120} 172 ${X + WIDE + 26} 168`} />
      <g className="scene-vessel ring-body" transform={`translate(0 ${-lifted})`} onClick={press}>
        <path
          className="scene-line ring-wall"
          fillRule="evenodd"
          d={`M${X - 100} ${Y}a100 ${100 * FLAT} 0 1 0 200 0a100 ${100 * FLAT} 0 1 0 -200 0ZM${X - 82} ${Y}a82 ${82 * FLAT} 0 1 0 164 0a82 ${82 * FLAT} 0 1 0 -164 0Z`}
        />
        <path className="scene-line" d={`M${X - 100} ${Y}v7a100 ${100 * FLAT} 0 0 0 200 0v-7`} />
      </g>
      {ring !== 'on' && <path className="scene-cable" d={`M${X - 92} ${Y - 66}L${X} 20L${X + 92} ${Y - 66}`} />}
    </svg>
  );
}
