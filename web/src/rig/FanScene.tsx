// A fan in a tube: a supply with its knob, two meters, and a vane at the mouth that the air turns.
import { useRef } from 'react';
import type { SceneProps } from './scenes';
import { useFrames } from '@/shared/ui/useFrames';

const [FAN, VANE, AXIS] = [392, 520, 108];

function blades(x: number, radius: number, turned: number, count: number): string {
  return Array.from({ length: count }, (_, i) => {
    const at = turned + (2 * Math.PI * i) / count;
    return `M${x} ${AXIS}L${x + 0.32 * radius * Math.sin(at)} ${AXIS - radius * Math.cos(at)}`;
  }).join('');
}

export function FanScene({ scene, shown, elapsed }: SceneProps) {
  const fan = useRef<SVGPathElement>(null);
  const vane = useRef<SVGPathElement>(null);
  const air = Number(scene['air'] ?? '0');
  const felt = Number(shown('vane')) || 0;
  useFrames(`${air} ${felt}`, () => {
    fan.current?.setAttribute('d', blades(FAN, 44, 4 * air * elapsed(), 5));
    vane.current?.setAttribute('d', blades(VANE, 26, 2 * felt * elapsed(), 6));
    return air > 0.02;
  });
  const knob = (-130 + (Number(scene['knob'] ?? '0') / 12) * 260) * (Math.PI / 180);
  return (
    <svg className="scene" viewBox="0 20 600 172" aria-hidden="true">
      <path className="scene-bench" d="M20 178H580" />
      <path className="scene-part" d="M30 178V112H126V178Z" />
      <circle className="scene-glass" cx="78" cy="140" r="21" />
      <path className="scene-line" d={`M78 140L${78 + 19 * Math.sin(knob)} ${140 - 19 * Math.cos(knob)}`} />
      <text className="scene-label" x="78" y="173" textAnchor="middle">
        supply
      </text>
      {(
        [
          ['voltmeter', 150, 'V'],
          ['ammeter', 240, 'A'],
        ] as const
      ).map(([face, x, unit]) => (
        <g key={face}>
          <path className="scene-part" d={`M${x} 178V126h78v52Z`} />
          <rect className="scene-glass" x={x + 7} y="133" width="64" height="24" rx="2" />
          <text className="scene-digits fan-digits" x={x + 66} y="151" textAnchor="end">
            {shown(face) === 'over' ? '— —' : shown(face)}
          </text>
          <text className="scene-label" x={x + 39} y="172" textAnchor="middle">
            {unit}
          </text>
        </g>
      ))}
      <path className="scene-cable" d="M126 122C170 78 260 70 346 128M126 132C136 112 140 112 150 140" />
      <path className="scene-part" d={`M340 56H560V62H340ZM340 154H560V160H340ZM372 160V178H384V160ZM536 160V178H548V160Z`} />
      <path className="scene-part" d={`M${FAN - 46} ${AXIS - 8}h38v16h-38Z`} />
      <path className="fan-blades" ref={fan} />
      <circle className="scene-part" cx={FAN} cy={AXIS} r="6" />
      <path className="fan-blades vane" ref={vane} />
      <circle className="scene-part" cx={VANE} cy={AXIS} r="4" />
      {air > 0.3 && <path className="fan-air" d={`M430 84h${12 * air}M430 ${AXIS}h${13 * air}M430 132h${12 * air}`} />}
      {scene['blown'] && (
        <text className="fan-blown" x="279" y="120" textAnchor="middle">
          fuse blown
        </text>
      )}
    </svg>
  );
}
