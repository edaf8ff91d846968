const CLOSE = new Set(['°', '′', '″']);

/** A number as text with its unit: after a space, but a degree sign close to it, as the server writes it. */
export function withUnit(number: string | number, unit: string): string {
  const written = String(number);
  if (!CLOSE.has(unit)) return `${written} ${unit}`.trim();
  return written.includes(' ± ') && !written.startsWith('(') ? `(${written})${unit}` : `${written}${unit}`;
}
