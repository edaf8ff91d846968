// Iron in tea: a burette on its stand, a beaker that is stirred, and an electrode with its meter.
import type { SceneProps } from './scenes';

const X = 250;
const FLOOR = 178;
const [TOP, BOTTOM] = [16, 118];

export function TeaScene({ scene, shown, controls, onPress }: SceneProps) {
  const filled = TOP + (Number(scene['level'] ?? '0') / 25) * (BOTTOM - TOP);
  const press = (act: string, value = '') => {
    const control = controls.find((c) => c.act === act && c.value === value);
    if (control) onPress(control);
  };
  return (
    <svg className="scene" viewBox="0 8 600 184" aria-hidden="true">
      <path className="scene-bench" d={`M60 ${FLOOR}H560`} />
      <path className="scene-part" d={`M150 ${FLOOR}H210V${FLOOR - 6}H150ZM176 ${FLOOR - 6}V14H184V${FLOOR - 6}Z`} />
      <path className="scene-line" d={`M184 40H${X - 7}M184 92H${X - 7}`} />
      <g className="scene-vessel" onClick={() => press('open', 'drop')}>
        <path className="burette-liquid" d={`M${X - 6} ${filled}H${X + 6}V${BOTTOM}L${X} ${BOTTOM + 12}L${X - 6} ${BOTTOM}Z`} />
        <path
          className="scene-line"
          d={`M${X - 6} ${TOP - 4}V${BOTTOM}L${X - 1.5} ${BOTTOM + 12}V${BOTTOM + 20}M${X + 6} ${TOP - 4}V${BOTTOM}L${X + 1.5} ${BOTTOM + 12}V${BOTTOM + 20}`}
        />
        {Array.from({ length: 26 }, (_, i) => (
          <path key={i} className="scene-line tea-mark" d={`M${X + 6} ${TOP + (i * (BOTTOM - TOP)) / 25}h${i % 5 ? -3 : -6}`} />
        ))}
        {scene['air'] && <circle className="scene-bubble" cx={X} cy={BOTTOM + 9} r="2.6" />}
        <rect className="scene-part" x={X - 11} y={BOTTOM + 4} width="22" height="4" rx="2" />
      </g>
      <g className="scene-vessel" onClick={() => press('stir')}>
        <path className="scene-part" d={`M${X - 50} ${FLOOR}V${FLOOR - 10}H${X + 50}V${FLOOR}Z`} />
        <path
          className={`tea-liquid${scene['over'] ? ' over' : ''}`}
          d={`M${X - 34} ${FLOOR - 36}H${X + 34}V${FLOOR - 13}Q${X + 34} ${FLOOR - 10} ${X + 31} ${FLOOR - 10}H${X - 31}Q${X - 34} ${FLOOR - 10} ${X - 34} ${FLOOR - 13}Z`}
        />
        <path
          className="scene-line"
          d={`M${X - 36} ${FLOOR - 46}L${X - 34} ${FLOOR - 43}V${FLOOR - 13}Q${X - 34} ${FLOOR - 10} ${X - 31} ${FLOOR - 10}H${X + 31}Q${X + 34} ${FLOOR - 10} ${X + 34} ${FLOOR - 13}V${FLOOR - 43}L${X + 36} ${FLOOR - 46}`}
        />
        <path className={scene['stirs'] ? 'tea-stirrer turning' : 'tea-stirrer'} d={`M${X - 12} ${FLOOR - 14}H${X + 12}`} />
      </g>
      <path className="scene-part" d={`M${X + 16} ${FLOOR - 78}h8v58h-8Z`} />
      <path className="scene-cable" d={`M${X + 20} ${FLOOR - 78}C${X + 20} 60 ${X + 130} 60 ${X + 150} 118`} />
      <path className="scene-part" d={`M${X + 110} ${FLOOR}V118H${X + 220}V${FLOOR}Z`} />
      <rect className="scene-glass" x={X + 122} y="128" width="86" height="28" rx="2" />
      <text className="scene-digits" x={X + 200} y="148" textAnchor="end">
        {shown('electrode')}
      </text>
      <text className="scene-label" x={X + 165} y="171" textAnchor="middle">
        mV
      </text>
    </svg>
  );
}
