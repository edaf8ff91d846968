// Salt in rock pools: a balance, flasks, water, the bottles from the shore, and the cell that hangs in one of them.
import type { SceneProps } from './scenes';

const FLASKS = 8;
const BENCH = 176;
/** Where the liquids stand along the bench. */
const PLACES: Record<string, number> = {
  water: 176,
  ...Object.fromEntries(Array.from({ length: FLASKS }, (_, i) => [`flask-${i + 1}`, 222 + 37 * i])),
  upper: 528,
  'diluted-upper': 566,
  lower: 610,
  'diluted-lower': 648,
};
const REST = 690;

export function SaltScene({ scene, shown, controls, onPress }: SceneProps) {
  const cell = scene['cell'] ?? 'air';
  const flasks = Number(scene['flasks']);
  const diluted = (scene['diluted'] ?? '').split(' ').filter(Boolean);
  const at = PLACES[cell] ?? REST;
  const hang = (liquid: string) => {
    const control = controls.find((c) => c.act === 'hang' && c.value === liquid);
    if (control) onPress(control);
  };
  const tip = cell === 'air' ? 96 : BENCH - 16;
  return (
    <svg className="scene salt" viewBox="0 22 720 172" aria-hidden="true">
      <path className="scene-bench" d={`M8 ${BENCH + 1}H712`} />
      <Balance salt={Number(scene['salt'] ?? '')} text={shown('balance')} />
      <Beaker x={PLACES['water'] ?? 0} label="water" kind="water" onPress={() => hang('water')} />
      {Array.from({ length: FLASKS }, (_, i) => (
        <Flask key={i} x={222 + 37 * i} number={i + 1} made={i < flasks} onPress={() => hang(`flask-${i + 1}`)} />
      ))}
      {(['upper', 'lower'] as const).map((pool) => (
        <g key={pool}>
          <Bottle x={PLACES[pool] ?? 0} label={pool} onPress={() => hang(pool)} />
          {diluted.includes(pool) && <Beaker x={PLACES[`diluted-${pool}`] ?? 0} label="1 : 20" kind="pool" onPress={() => hang(`diluted-${pool}`)} />}
        </g>
      ))}
      <g className="salt-cell" transform={`translate(${at} ${tip})`}>
        <path className="scene-cable" d={`M0 -66C0 -100 ${REST + 14 - at} -60 ${REST + 14 - at} ${-tip + 22}`} />
        <rect x="-4.5" y="-66" width="9" height="60" rx="3" className="scene-part" />
        <path d="M-2.5 -6V4M2.5 -6V4" className="scene-line" />
        {scene['bubble'] && <circle cx="3.5" cy="-1" r="3.6" className="scene-bubble" />}
      </g>
    </svg>
  );
}

function Balance({ salt, text }: { salt: number; text: string }) {
  return (
    <g>
      <path className="scene-part" d={`M18 ${BENCH}V134Q18 128 24 128H126Q132 128 132 134V${BENCH}Z`} />
      <path className="scene-line" d="M75 128V116M44 116H106" />
      <path className="scene-part" d="M50 104H100L94 116H56Z" />
      {salt > 0 && <path className="scene-salt" d={`M58 105Q75 ${104 - 6 - 16 * salt} 92 105Z`} />}
      <rect x="32" y="140" width="86" height="26" rx="2" className="scene-glass" />
      <text x="110" y="159" className="scene-digits" textAnchor="end">
        {text.replace('-', '−')}
      </text>
    </g>
  );
}

function Beaker({ x, label, kind, onPress }: { x: number; label: string; kind: 'water' | 'pool'; onPress: () => void }) {
  return (
    <g className="scene-vessel" onClick={onPress}>
      <path
        className={`scene-liquid ${kind}`}
        d={`M${x - 14} ${BENCH - 34}H${x + 14}V${BENCH - 3}Q${x + 14} ${BENCH} ${x + 11} ${BENCH}H${x - 11}Q${x - 14} ${BENCH} ${x - 14} ${BENCH - 3}Z`}
      />
      <path
        className="scene-line"
        d={`M${x - 16} ${BENCH - 47}L${x - 14} ${BENCH - 44}V${BENCH - 3}Q${x - 14} ${BENCH} ${x - 11} ${BENCH}H${x + 11}Q${x + 14} ${BENCH} ${x + 14} ${BENCH - 3}V${BENCH - 44}L${x + 16} ${BENCH - 47}`}
      />
      <text x={x} y={BENCH + 15} className="scene-label" textAnchor="middle">
        {label}
      </text>
    </g>
  );
}

function Flask({ x, number, made, onPress }: { x: number; number: number; made: boolean; onPress: () => void }) {
  const outline = `M${x - 3.5} ${BENCH - 62}V${BENCH - 36}Q${x - 16} ${BENCH - 28} ${x - 16} ${BENCH - 12}Q${x - 16} ${BENCH} ${x - 9} ${BENCH}H${x + 9}Q${x + 16} ${BENCH} ${x + 16} ${BENCH - 12}Q${x + 16} ${BENCH - 28} ${x + 3.5} ${BENCH - 36}V${BENCH - 62}`;
  return (
    <g className={made ? 'scene-vessel' : 'scene-ghost'} onClick={made ? onPress : undefined}>
      <path className={made ? 'scene-liquid salt' : 'scene-none'} d={outline} />
      <path className="scene-line" d={`${outline}M${x - 6} ${BENCH - 62}H${x + 6}M${x - 3.5} ${BENCH - 48}H${x + 3.5}`} />
      <text x={x} y={BENCH + 15} className="scene-label" textAnchor="middle">
        {number}
      </text>
    </g>
  );
}

function Bottle({ x, label, onPress }: { x: number; label: string; onPress: () => void }) {
  const outline = `M${x - 6} ${BENCH - 64}V${BENCH - 54}Q${x - 15} ${BENCH - 50} ${x - 15} ${BENCH - 42}V${BENCH - 3}Q${x - 15} ${BENCH} ${x - 12} ${BENCH}H${x + 12}Q${x + 15} ${BENCH} ${x + 15} ${BENCH - 3}V${BENCH - 42}Q${x + 15} ${BENCH - 50} ${x + 6} ${BENCH - 54}V${BENCH - 64}Z`;
  return (
    <g className="scene-vessel" onClick={onPress}>
      <path className="scene-liquid shore" d={outline} />
      <path className="scene-line" d={outline} />
      <text x={x} y={BENCH + 15} className="scene-label" textAnchor="middle">
        {label}
      </text>
    </g>
  );
}
