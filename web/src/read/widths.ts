// How wide columns have to be for what is written in them: a reading with its own ± is longer than most.
import type { Quantity } from '@/shared/api/client';
import type { Row } from '@/shared/book/rows';
import { isWorded } from '@/shared/book/quantities';

/** Signs that every column has room for. */
const USUAL = 8;
const MOST = 26;
/** Signs that a column of words has room for from the beginning. */
const WORDS = 14;
const MOST_WORDS = 44;
/** Of a sign, and around all of them, in pixels. */
const SIGN = 9.8;
const LETTER = 7.8;
const AROUND = 28;

/** Least widths of headings by quantity; none where the usual one is enough. */
export function widthsOf(columns: readonly Quantity[], rows: readonly Row[]): Map<string, number> {
  const found = new Map<string, number>();
  for (const q of columns) {
    const { id, repeats } = q;
    let longest = isWorded(q) ? WORDS : 0;
    for (const row of rows) for (const entry of row.readings[id] ?? []) if (entry && entry.text.length > longest) longest = entry.text.length;
    if (longest > USUAL) found.set(id, Math.ceil((Math.min(longest, isWorded(q) ? MOST_WORDS : MOST) * (isWorded(q) ? LETTER : SIGN) + AROUND) * repeats));
  }
  return found;
}
