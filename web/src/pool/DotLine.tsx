// Very many results on a number line: a dot each, piled up where they lie close together; those that are off by name.
import type { Schemas } from '@/shared/api/client';
import type { LineMark } from '@/shared/graph/NumberLine';
import { NumberAxis } from '@/shared/graph/NumberAxis';
import { useWidth } from '@/shared/graph/useWidth';

const DOT = 9;
const HIGHEST = 240;
const LEFT = 18;
const RIGHT = 18;

/** For each mark how many stand below it, in its pile. */
export function pile(places: readonly number[]): number[] {
  const heights = new Map<number, number>();
  return places.map((place) => {
    const column = Math.round(place / DOT);
    const below = heights.get(column) ?? 0;
    heights.set(column, below + 1);
    return below;
  });
}

export function DotLine({ line, marks, band }: { line: Schemas['NumberLine']; marks: LineMark[]; band: { value: number; u: number } | null }) {
  const [box, width] = useWidth<HTMLDivElement>(560);
  const place = (v: number) => LEFT + ((v - line.axis_low) / (line.axis_high - line.axis_low)) * (width - LEFT - RIGHT);
  const clamped = (v: number) => Math.min(width - RIGHT, Math.max(LEFT, place(v)));
  const dots = marks.filter((m) => m.tone !== 'accepted');
  const accepted = marks.find((m) => m.tone === 'accepted');
  const below = pile(dots.map((m) => clamped(m.value)));
  const most = Math.max(0, ...below) + 1;
  // a high pile overlaps, so that the line stays in sight
  const step = Math.min(DOT, HIGHEST / most);
  const height = Math.max(60, step * most + 2 * DOT);
  const odd = dots.filter((m) => m.tone === 'odd').map((m) => m.name);
  const label = `${dots.length} benches${odd.length > 0 ? `; off: ${odd.join(', ')}` : ''}`;
  return (
    <div ref={box} className="number-line">
      <svg width={width} height={height + 46} role="img" aria-label={label}>
        {band && (
          <rect
            className="number-line-band"
            x={place(band.value - band.u)}
            width={Math.max(2, place(band.value + band.u) - place(band.value - band.u))}
            y={2}
            height={height - 2}
          />
        )}
        {accepted && <path className="pool-accepted" d={`M${place(accepted.value)} 2V${height}`} />}
        {dots.map((m, i) => (
          <circle
            key={m.name}
            data-light={m.name}
            className={`pool-dot ${m.tone ?? 'plain'}`}
            cx={Math.round(clamped(m.value) / DOT) * DOT}
            cy={height - DOT / 2 - step * (below[i] ?? 0)}
            r={DOT / 2 - 1}
          >
            <title>{`${m.name}: ${m.note ?? ''}`}</title>
          </circle>
        ))}
        <NumberAxis line={line} place={place} from={LEFT} to={width - RIGHT} y={height} />
      </svg>
    </div>
  );
}
