// An elastic band before a ruler, with its discs, in a box that is cold, as warm as the room, or under a lamp.
import type { SceneProps } from './scenes';

const X = 300;
const TOP = 34;

export function BandScene({ scene, controls, onPress }: SceneProps) {
  const length = 0.42 * Number(scene['length'] ?? '80');
  const discs = Number(scene['discs'] ?? '0');
  const bath = scene['bath'] ?? 'room';
  const press = (act: string) => {
    const control = controls.find((c) => c.act === act);
    if (control) onPress(control);
  };
  return (
    <svg className="scene" viewBox="0 8 600 188" aria-hidden="true">
      <path className={`band-air ${bath}`} d="M212 14H420V186H212Z" />
      <path className="scene-part" d={`M238 14H330V24H238ZM244 24H252V190H244Z`} />
      <path className="scene-line" d={`M${X} 24v${TOP - 24}`} />
      <path
        className="band-rubber"
        d={`M${X - 5} ${TOP}q-${Math.max(1, 8 - length / 14)} ${length / 2} 0 ${length}h10q${Math.max(1, 8 - length / 14)} -${length / 2} 0 -${length}Z`}
      />
      <g className="scene-vessel" onClick={() => press('add')} transform={`translate(${X} ${TOP + length})`}>
        <path className="scene-line" d={`M0 0v${14 + 5 * 8}`} />
        {Array.from({ length: discs }, (_, i) => (
          <rect key={i} className="scene-part" x="-15" y={46 - 5 * i} width="30" height="4.4" rx="1" />
        ))}
        <path className="strip-mark" d="M0 0H78" />
      </g>
      <rect className="scale-paper" x="372" y={TOP} width="22" height="120" />
      {Array.from({ length: 29 }, (_, i) => (
        <path key={i} className="scene-line tea-mark" d={`M372 ${TOP + 4.2 * i}h${i % 5 ? 6 : 11}`} />
      ))}
      {bath === 'warm' && <path className="scene-line" d="M450 30l-34 16M462 60l-44 6M450 90l-34 -2M462 24h40l10 36h-60Z" />}
      {bath === 'cold' && <path className="scene-line" d="M452 40v36M436 49l32 18M468 49l-32 18" />}
      <path className="scene-bench" d="M150 190H470" />
    </svg>
  );
}
