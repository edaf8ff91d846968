import { raise } from './raised';

const CLOSE = new Set(['°', '′', '″']);

/** A unit that was typed, as the server writes it: m/s^2 as m/s². */
export function tidyUnit(unit: string): string {
  return unit.replace(/\^(?:\((-?\d+)\)|(-?\d+))(?!\/)/g, (_, ...[closed, open]: string[]) => raise(closed ?? open ?? ''));
}

/** A number as text with its unit: after a space, but a degree sign close to it, as the server writes it. */
export function withUnit(number: string | number, unit: string): string {
  const written = String(number);
  if (!CLOSE.has(unit)) return `${written} ${tidyUnit(unit)}`.trim();
  return written.includes(' ± ') && !written.startsWith('(') ? `(${written})${unit}` : `${written}${unit}`;
}

/** A ± as it was typed, without the sign that stands before it. */
export const withoutPlusMinus = (typed: string): string => typed.replace(/^\s*(±|\+\/?[-−–])/, '').trim();

/** A ± that was typed, by itself, with its unit; per cent are of the number that it belongs to. */
export function writeU(typed: string, unit: string): string {
  const bare = withoutPlusMinus(typed);
  return bare.endsWith('%') ? bare : withUnit(bare, unit);
}
