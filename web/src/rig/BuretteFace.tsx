// A burette as one sees it whose eye is before it: the meniscus between its marks, read at its lowest.
import type { Schemas } from '@/shared/api/client';
import { nearMarks, valueAt } from './ScaleFace';

const WIDTH = 300;
const HEIGHT = 150;
const SIGHT = 6;
const STEP = HEIGHT / (2 * SIGHT);
const [LEFT, RIGHT] = [96, 196];

export function BuretteFace({ face, at }: { face: Schemas['Face']; at: number }) {
  const middle = at / face.division;
  const marks = Array.from({ length: 2 * SIGHT + 2 }, (_, i) => Math.ceil(middle - SIGHT) + i).filter((mark) => mark >= 0);
  const y = (mark: number) => HEIGHT / 2 + (mark - middle) * STEP;
  const low = HEIGHT / 2;
  return (
    <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} role="img" aria-label={nearMarks(face, at)}>
      <rect className="scale-paper" width={WIDTH} height={HEIGHT} />
      <rect className="burette-glass" x={LEFT} y="-2" width={RIGHT - LEFT} height={HEIGHT + 4} />
      <path className="burette-liquid" d={`M${LEFT} ${low - 11}Q${(LEFT + RIGHT) / 2} ${low + 11} ${RIGHT} ${low - 11}V${HEIGHT}H${LEFT}Z`} />
      {marks.map((mark) => {
        const long = mark % face.numbered === 0 ? 60 : mark % 5 === 0 ? 42 : 28;
        return (
          <g key={mark}>
            <path className="scene-line" d={`M${RIGHT} ${y(mark)}h${-long}`} />
            {mark % face.numbered === 0 && (
              <text className="scale-number" x={RIGHT + 10} y={y(mark) + 5}>
                {valueAt(face, mark)}
              </text>
            )}
          </g>
        );
      })}
    </svg>
  );
}
