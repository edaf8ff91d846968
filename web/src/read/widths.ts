// How wide columns have to be for what is written in them: a reading with its own ± is longer than most.
import type { Quantity } from '@/shared/api/client';
import type { Row } from '@/shared/book/rows';

/** Signs that every column has room for. */
const USUAL = 8;
const MOST = 26;
/** Of a sign, and around all of them, in pixels. */
const SIGN = 9.8;
const AROUND = 28;

/** Least widths of headings by quantity; none where the usual one is enough. */
export function widthsOf(columns: readonly Quantity[], rows: readonly Row[]): Map<string, number> {
  const found = new Map<string, number>();
  for (const { id, repeats } of columns) {
    let longest = 0;
    for (const row of rows) for (const entry of row.readings[id] ?? []) if (entry && entry.text.length > longest) longest = entry.text.length;
    if (longest > USUAL) found.set(id, Math.ceil((Math.min(longest, MOST) * SIGN + AROUND) * repeats));
  }
  return found;
}
