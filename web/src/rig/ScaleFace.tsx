// A scale as one sees it who bends over it: an edge between its marks, to be read by eye.
import type { Schemas } from '@/shared/api/client';
import { withUnit } from '@/shared/ui/withUnit';

const WIDTH = 300;
const HEIGHT = 78;
/** How many divisions are in sight on each side. */
const SIGHT = 7;
const STEP = WIDTH / (2 * SIGHT);

interface Props {
  face: Schemas['Face'];
  /** Where the edge stands, in the unit of the scale. */
  at: number;
  /** On which side of the edge the body lies. */
  body: string;
}

export function ScaleFace({ face, at, body }: Props) {
  const middle = at / face.division;
  const marks = Array.from({ length: 2 * SIGHT + 2 }, (_, i) => Math.ceil(middle - SIGHT) + i);
  const x = (mark: number) => WIDTH / 2 + (mark - middle) * STEP;
  return (
    <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} role="img" aria-label={nearMarks(face, at)}>
      <rect className="scale-paper" width={WIDTH} height={HEIGHT} />
      <rect className="scale-body" x={body === 'left' ? 0 : WIDTH / 2} y="0" width={WIDTH / 2} height="30" />
      <path className="scale-edge" d={`M${WIDTH / 2} 0V34`} />
      {marks.map((mark) => {
        const long = mark % face.numbered === 0 ? 24 : mark % 5 === 0 ? 18 : 12;
        return (
          <g key={mark}>
            <path className="scene-line" d={`M${x(mark)} 30v${long}`} />
            {mark % face.numbered === 0 && (
              <text className="scale-number" x={x(mark)} y={HEIGHT - 6} textAnchor="middle">
                {valueAt(face, mark)}
              </text>
            )}
          </g>
        );
      })}
    </svg>
  );
}

/** What a mark of a scale stands for. */
export function valueAt({ division }: Pick<Schemas['Face'], 'division'>, mark: number): number {
  return Math.round(mark * division * 1e6) / 1e6;
}

/** Where something stands on a scale, as one says it who does not estimate between marks. */
export function nearMarks(face: Pick<Schemas['Face'], 'division' | 'unit'>, at: number): string {
  const divisions = at / face.division;
  const lower = Math.floor(divisions);
  const part = divisions - lower;
  const [below, above] = [valueAt(face, lower), valueAt(face, lower + 1)];
  if (part < 0.05) return `at ${withUnit(below, face.unit)}`;
  if (part > 0.95) return `at ${withUnit(above, face.unit)}`;
  const nearer = part < 0.4 ? ', nearer the lower mark' : part > 0.6 ? ', nearer the upper mark' : ', near the middle';
  return `between ${below} and ${withUnit(above, face.unit)}${nearer}`;
}
