// A number that somebody types into a small field: with either decimal sign, and a real minus or a hyphen.

/** Null for an empty field, NaN for what is no number. */
export function readNumber(text: string): number | null {
  const plain = text
    .trim()
    .replace(',', '.')
    .replace(/^[−–]/, '-')
    .replace(/([eE])[−–]/, '$1-');
  if (plain === '') return null;
  // no 0x10, no Infinity
  return /^[+-]?(\d+\.?\d*|\.\d+)([eE][+-]?\d+)?$/.test(plain) ? Number(plain) : NaN;
}

/** Whether a text is the beginning of a number, of which the rest is still to be typed. */
export const isBegun = (text: string): boolean => /^[+\-−–]?\d*[.,]?\d*([eE][+\-−–]?)?$/.test(text.trim());

/** How many: 0 for an empty field, null for what is no whole number up to so many. */
export function readCount(text: string, most: number): number | null {
  const plain = text.trim();
  if (!/^\d{0,9}$/.test(plain)) return null;
  return Number(plain) <= most ? Number(plain) : null;
}
