// Files of one format come again and again: what each column was is remembered on this device, by the headings and by the quantities’ symbols.
import type { Schemas } from '@/shared/api/client';
import { keepQuietly } from '@/shared/ui/keepQuietly';

type Target = Schemas['Target'];

/** What a column was: the symbol of its quantity, which repeat, whether it was the ±; nothing for one that was left out. */
interface Was {
  symbol: string;
  repeat: number;
  is_u: boolean;
}

export interface Format {
  headings: string[];
  columns: (Was | null)[];
  logged: boolean;
  every: number;
}

/** The columns of a file that comes again, as targets in this lab book. */
export interface Remembered {
  columns: (Target | null)[];
  logged: boolean;
  every: number;
}

const KEY = 'hobrel:formats';
const MOST = 24;

function read(): Format[] {
  try {
    const found = JSON.parse(localStorage.getItem(KEY) ?? '[]') as unknown;
    return Array.isArray(found) ? (found as Format[]) : [];
  } catch {
    return [];
  }
}

const same = (a: readonly string[], b: readonly string[]) => a.length === b.length && a.every((heading, i) => heading === b[i]);

/** A file without headings is like any other with as many columns, so that nothing can be remembered of it. */
const hasFormat = (headings: readonly string[]) => headings.some((heading) => heading.trim() !== '');

/** Remember how a file was brought in; the latest come first, and only so many are kept. */
export function rememberFormat(format: Format): void {
  if (!hasFormat(format.headings)) return;
  const others = read().filter((f) => !same(f.headings, format.headings));
  keepQuietly(localStorage, KEY, JSON.stringify([format, ...others].slice(0, MOST)));
}

/** How a file with these headings was brought in last; nothing where this lab book lacks one of its quantities or repeats. */
export function recallFormat(headings: readonly string[], quantities: readonly { id: string; symbol: string; repeats: number }[]): Remembered | null {
  const found = hasFormat(headings) ? read().find((f) => same(f.headings, headings)) : undefined;
  if (!found) return null;
  const columns = found.columns.map((was) => {
    if (was === null) return null;
    const quantity = quantities.find((q) => q.symbol === was.symbol && was.repeat < q.repeats);
    return quantity ? { quantity: quantity.id, repeat: was.repeat, is_u: was.is_u } : undefined;
  });
  return columns.includes(undefined) ? null : { columns: columns as (Target | null)[], logged: found.logged, every: found.every };
}
