// The shapes that go with the series colours: hollow, so that bars and neighbours stay visible.
import look from '@look';

const corners: Partial<Record<string, number[][]>> = look.corners;
const arms: Partial<Record<string, number[][]>> = look.arms;

/** The looks in words, in their order. */
export const looks = ['blue circle', 'orange square', 'green triangle', 'pink diamond', 'yellow triangle down', 'light blue plus', 'black cross'] as const;

export function colourOf(series: number): string {
  return `var(--series-${series % look.shapes.length})`;
}

/** How strong a line is, and how it is broken. */
export function strokeOf({ width, dash = '' }: { width: number; dash?: string }) {
  return { strokeWidth: width, strokeDasharray: dash || undefined };
}

export function Marker({ x, y, look: series, size }: { x: number; y: number; look: number; size: number }) {
  const colour = colourOf(series);
  const shape = look.shapes[series % look.shapes.length] ?? 'circle';
  const style = { fill: 'var(--sheet)', stroke: colour, strokeWidth: look.point.outline };
  const outline = corners[shape];
  if (outline) return <polygon points={outline.map(([a = 0, b = 0]) => `${x + a * size},${y + b * size}`).join(' ')} {...style} />;
  const lines = arms[shape];
  if (!lines) return <circle cx={x} cy={y} r={size} {...style} />;
  const path = lines.map(([a = 0, b = 0, c = 0, d = 0]) => `M${x + a * size} ${y + b * size}L${x + c * size} ${y + d * size}`).join('');
  return <path d={path} fill="none" stroke={colour} strokeWidth={look.point.arms} />;
}
