// A winged seed between two gates: it turns while it falls, and lands beside the mark on the floor.
import { useRef } from 'react';
import type { SceneProps } from './scenes';
import { useFrames } from '@/shared/ui/useFrames';

const X = 190;
const TOP = 40;
const FLOOR = 178;
const MARK = 420;

export function SeedScene({ scene, elapsed, controls, onPress }: SceneProps) {
  const seed = useRef<SVGGElement>(null);
  const wing = useRef<SVGPathElement>(null);
  const { wing: length = '70', load = '1', fallen = '', takes = '', turns = '0', beside = '', tumbled = '' } = scene;
  const span = 0.34 * Number(length);
  const [since, whole] = [Number(fallen), Number(takes)];
  useFrames(JSON.stringify(scene), () => {
    const now = fallen ? since + elapsed() : 0;
    const share = fallen ? Math.min(1, now / whole) : 0;
    const around = 2 * Math.PI * Number(turns) * share;
    seed.current?.setAttribute('transform', `translate(${X} ${TOP + share * (FLOOR - 12 - TOP)})${tumbled ? ` rotate(${400 * share})` : ''}`);
    const reach = span * Math.cos(around);
    wing.current?.setAttribute('d', `M0 0L${reach} ${-0.25 * span}Q${1.15 * reach} ${-0.1 * span} ${0.9 * reach} 2Z`);
    return fallen !== '' && share < 1;
  });
  const landed = fallen !== '' && since >= whole;
  const drop = () => {
    const control = controls.find((c) => c.act === 'drop');
    if (control) onPress(control);
  };
  return (
    <svg className="scene" viewBox="0 12 600 182" aria-hidden="true">
      <path className="scene-bench" d={`M20 ${FLOOR}H580`} />
      <path className="scene-part" d={`M96 ${FLOOR}V22H104V${FLOOR}Z`} />
      {[48, 150].map((y, i) => (
        <g key={y}>
          <path className="scene-part" d={`M104 ${y - 4}H126V${y + 4}H104ZM${X + 62} ${y - 4}h16v8h-16Z`} />
          <path className="gate-beam" d={`M126 ${y}H${X + 62}`} />
          <text className="scene-label" x="90" y={y + 4} textAnchor="end">
            gate {i + 1}
          </text>
        </g>
      ))}
      <g className="scene-vessel" ref={seed} onClick={drop}>
        <path className="scene-line seed-wing" ref={wing} />
        <circle className="scene-part" r="4" />
        {Array.from({ length: Number(load) }, (_, i) => (
          <rect key={i} className="scene-line" x={-2} y={4 + 5 * i} width="4" height="6" rx="1.5" />
        ))}
      </g>
      <path className="scene-line" d={`M${MARK - 6} ${FLOOR - 6}L${MARK + 6} ${FLOOR + 6}M${MARK + 6} ${FLOOR - 6}L${MARK - 6} ${FLOOR + 6}`} />
      <path className="seed-tape" d={`M${MARK} ${FLOOR + 3}H575v6H${MARK}Z`} />
      {landed && <circle className="ring-mark" cx={Math.min(570, MARK + 1.6 * Number(beside))} cy={FLOOR - 3} r="3.5" />}
      <text className="scene-label" x={MARK} y={FLOOR - 14} textAnchor="middle">
        mark, seen from the side
      </text>
    </svg>
  );
}
