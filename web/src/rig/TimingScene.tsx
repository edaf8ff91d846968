// Things that one times by hand, each moving by the clock, and the stopwatch that one presses oneself.
import { useRef } from 'react';
import type { SceneProps } from './scenes';
import { useFrames } from '@/shared/ui/useFrames';

const FLOOR = 180;
const X = 200;

/** Where the stopwatch's hand points to, and what it says. */
function Stopwatch({ scene, elapsed, onPress }: { scene: SceneProps['scene']; elapsed: () => number; onPress: () => void }) {
  const hand = useRef<SVGPathElement>(null);
  const digits = useRef<SVGTextElement>(null);
  const shown = Number(scene['watch'] ?? '0');
  const runs = scene['runs'] === 'yes';
  useFrames(`${shown} ${runs}`, () => {
    const now = shown + (runs ? elapsed() : 0);
    const at = ((now % 60) / 60) * 2 * Math.PI;
    hand.current?.setAttribute('d', `M470 112L${470 + 44 * Math.sin(at)} ${112 - 44 * Math.cos(at)}`);
    if (digits.current) digits.current.textContent = now.toFixed(2);
    return runs;
  });
  return (
    <g className="scene-vessel" onClick={onPress}>
      <path className="scene-part" d="M462 46h16v14h-16Z" />
      <circle className="scene-part" cx="470" cy="112" r="54" />
      {Array.from({ length: 12 }, (_, i) => {
        const at = (i * Math.PI) / 6;
        return (
          <path
            key={i}
            className="scene-line"
            d={`M${470 + 47 * Math.sin(at)} ${112 - 47 * Math.cos(at)}L${470 + 53 * Math.sin(at)} ${112 - 53 * Math.cos(at)}`}
          />
        );
      })}
      <path className="watch-hand" ref={hand} />
      <text className="scene-digits fan-digits" ref={digits} x="470" y="142" textAnchor="middle" />
    </g>
  );
}

function Bead({ scene, elapsed }: Pick<SceneProps, 'scene' | 'elapsed'>) {
  const bead = useRef<SVGCircleElement>(null);
  const [sinks, gone] = [Number(scene['sinks'] ?? '0'), scene['gone'] ?? ''];
  const y = (depth: number) => 34 + depth * 460;
  useFrames(`${sinks} ${gone}`, () => {
    const depth = gone ? Math.min(0.3, sinks * (Number(gone) + elapsed())) : 0;
    bead.current?.setAttribute('cy', `${y(depth)}`);
    return gone !== '' && depth < 0.3;
  });
  return (
    <>
      <path className="tea-liquid over" d={`M${X - 32} 30H${X + 32}V${FLOOR}H${X - 32}Z`} />
      <path className="scene-line" d={`M${X - 32} 20V${FLOOR}H${X + 32}V20`} />
      {(scene['marks'] ?? '').split(' ').map((mark) => (
        <path key={mark} className="strip-mark" d={`M${X - 44} ${y(Number(mark))}H${X + 44}`} />
      ))}
      <circle className="ring-mark" ref={bead} cx={scene['touches'] ? X + 27 : X} r={2 + Number(scene['size'])} />
    </>
  );
}

function Swing({ scene, elapsed, upright }: Pick<SceneProps, 'scene' | 'elapsed'> & { upright: boolean }) {
  const arm = useRef<SVGPathElement>(null);
  const bob = useRef<SVGCircleElement>(null);
  const [period, dies, gone] = [Number(scene['period']), Number(scene['dies']), scene['gone'] ?? ''];
  const length = (Number(scene['size']) / (upright ? 950 : 600)) * (upright ? 132 : 150);
  useFrames(`${period} ${gone} ${length}`, () => {
    const time = gone ? Number(gone) + elapsed() : 0;
    const swing = gone ? Math.exp(-dies * time) * Math.cos((2 * Math.PI * time) / period) : 1;
    if (upright) {
      const at = 0.2 * swing;
      const [x, y] = [X + length * Math.sin(at), 26 + length * Math.cos(at)];
      arm.current?.setAttribute('d', `M${X} 26L${x} ${y}`);
      bob.current?.setAttribute('cx', `${x}`);
      bob.current?.setAttribute('cy', `${y}`);
    } else {
      const tip = 96 + 26 * swing;
      arm.current?.setAttribute('d', `M120 92Q${120 + length / 2} 92 ${120 + length} ${tip}`);
      bob.current?.setAttribute('cx', `${120 + length}`);
      bob.current?.setAttribute('cy', `${tip + 8}`);
    }
    return gone !== '';
  });
  return (
    <>
      <path className="scene-part" d={upright ? `M${X - 40} 18H${X + 40}V26H${X - 40}Z` : `M80 ${FLOOR}V80H120V104H96V${FLOOR}Z`} />
      <path className="scene-line swing-arm" ref={arm} />
      <circle className="ring-mark" ref={bob} r="8" />
    </>
  );
}

function Vessel({ scene, elapsed }: Pick<SceneProps, 'scene' | 'elapsed'>) {
  const water = useRef<SVGPathElement>(null);
  const [drains, gone] = [Number(scene['drains']), scene['gone'] ?? ''];
  useFrames(`${drains} ${gone}`, () => {
    const root = Math.max(0, Math.sqrt(0.4) - (gone ? drains * (Number(gone) + elapsed()) : 0));
    const top = 160 - root * root * 330;
    water.current?.setAttribute('d', `M${X - 30} ${top}H${X + 30}V160H${X - 30}Z`);
    return gone !== '' && root > 0;
  });
  return (
    <>
      <path className="scene-liquid salt" ref={water} />
      <path className="scene-line" d={`M${X - 30} 20V160H${X + 30}V20M${X + 30} 152h14v4`} />
      {Array.from({ length: 9 }, (_, i) => (
        <g key={i}>
          <path className="scene-line" d={`M${X - 30} ${160 - i * 16.5}h8`} />
          <text className="scene-label" x={X - 36} y={164 - i * 16.5} textAnchor="end">
            {50 * i}
          </text>
        </g>
      ))}
      <path className="scene-part" d={`M${X - 34} 160H${X + 34}V${FLOOR}H${X - 34}Z`} />
    </>
  );
}

function Cup({ shown }: Pick<SceneProps, 'shown'>) {
  return (
    <>
      <path
        className="scene-part"
        d={`M${X - 44} 96H${X + 44}L${X + 34} ${FLOOR}H${X - 34}ZM${X + 42} 110q30 4 22 34q-6 14 -28 14v-7q16 0 20 -10q6 -22 -15 -24Z`}
      />
      <path className="scene-part" d={`M${X - 4} 34h8v110h-8Z`} />
      <text className="scene-digits fan-digits" x={X + 20} y="60">
        {shown('thermometer')} °C
      </text>
    </>
  );
}

export function TimingScene({ scene, elapsed, shown, controls, onPress }: SceneProps) {
  const press = () => {
    const control = controls.find((c) => c.act === 'press');
    if (control) onPress(control);
  };
  const thing = scene['thing'];
  return (
    <svg className="scene" viewBox="0 10 600 182" aria-hidden="true">
      <path className="scene-bench" d={`M40 ${FLOOR}H570`} />
      {thing === 'bead' && <Bead scene={scene} elapsed={elapsed} />}
      {thing === 'pendulum' && <Swing scene={scene} elapsed={elapsed} upright />}
      {thing === 'strip' && <Swing scene={scene} elapsed={elapsed} upright={false} />}
      {thing === 'vessel' && <Vessel scene={scene} elapsed={elapsed} />}
      {thing === 'cup' && <Cup shown={shown} />}
      <Stopwatch scene={scene} elapsed={elapsed} onPress={press} />
    </svg>
  );
}
