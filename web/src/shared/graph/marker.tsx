// The shapes that go with the series colours: hollow, so that bars and neighbours stay visible.
import { seriesShapes } from '@/shared/theme/tokens';

const corners: Record<string, (s: number) => [number, number][]> = {
  square: (s) => [
    [-s, -s],
    [s, -s],
    [s, s],
    [-s, s],
  ],
  triangle: (s) => [
    [0, -1.2 * s],
    [1.1 * s, 0.9 * s],
    [-1.1 * s, 0.9 * s],
  ],
  down: (s) => [
    [0, 1.2 * s],
    [1.1 * s, -0.9 * s],
    [-1.1 * s, -0.9 * s],
  ],
  diamond: (s) => [
    [0, -1.3 * s],
    [1.3 * s, 0],
    [0, 1.3 * s],
    [-1.3 * s, 0],
  ],
};

/** The looks in words, in their order. */
export const looks = ['blue circle', 'orange square', 'green triangle', 'pink diamond', 'yellow triangle down', 'light blue plus', 'black cross'] as const;

export function colourOf(look: number): string {
  return `var(--series-${look % seriesShapes.length})`;
}

export function Marker({ x, y, look, size }: { x: number; y: number; look: number; size: number }) {
  const colour = colourOf(look);
  const shape = seriesShapes[look % seriesShapes.length] ?? 'circle';
  const style = { fill: 'var(--sheet)', stroke: colour, strokeWidth: 1.6 };
  const outline = corners[shape];
  if (outline)
    return (
      <polygon
        points={outline(size)
          .map(([a, b]) => `${x + a},${y + b}`)
          .join(' ')}
        {...style}
      />
    );
  if (shape === 'circle') return <circle cx={x} cy={y} r={size} {...style} />;
  const s = size;
  const path = shape === 'plus' ? `M${x - s} ${y}H${x + s}M${x} ${y - s}V${y + s}` : `M${x - s} ${y - s}L${x + s} ${y + s}M${x - s} ${y + s}L${x + s} ${y - s}`;
  return <path d={path} fill="none" stroke={colour} strokeWidth={1.8} />;
}
