// A number that somebody types into a small field: with either decimal sign, and a real minus or a hyphen.

/** Null for an empty field, NaN for what is no number. */
export function readNumber(text: string): number | null {
  const plain = text.trim();
  return plain === '' ? null : Number(plain.replace(',', '.').replace('−', '-'));
}
