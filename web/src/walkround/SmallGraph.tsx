// The last graph of a lab book in small: its points, and what is fitted to them.
import type { Schemas } from '@/shared/api/client';

const WIDTH = 96;
const HEIGHT = 58;
const INSET = 5;

function placesOf(numbers: readonly number[]): [number, number][] {
  const places: [number, number][] = [];
  for (let i = 0; i + 1 < numbers.length; i += 2) {
    const [x = 0, y = 0] = [numbers[i], numbers[i + 1]];
    places.push([INSET + ((WIDTH - 2 * INSET) * x) / 1000, HEIGHT - INSET - ((HEIGHT - 2 * INSET) * y) / 1000]);
  }
  return places;
}

export function SmallGraph({ graph }: { graph: Schemas['SmallGraph'] | null }) {
  const label = graph ? `Graph of ${graph.y || 'y'} against ${graph.x || 'x'}, ${graph.dots.length / 2} points` : 'No graph yet';
  return (
    <svg className="small-graph" viewBox={`0 0 ${WIDTH} ${HEIGHT}`} role="img" aria-label={label}>
      <path d={`M${INSET} 2V${HEIGHT - INSET}H${WIDTH - 2}`} fill="none" stroke="var(--quiet)" strokeWidth="1" />
      {graph && graph.line.length > 2 && (
        <polyline
          points={placesOf(graph.line)
            .map((p) => p.map((v) => v.toFixed(1)).join())
            .join(' ')}
          fill="none"
          stroke="var(--plum)"
          strokeWidth="1.6"
        />
      )}
      {graph &&
        placesOf(graph.dots).map(([x, y], i) => <circle key={i} cx={x.toFixed(1)} cy={y.toFixed(1)} r="1.9" fill="var(--sheet)" stroke="var(--series-0)" />)}
    </svg>
  );
}
