// Columns of a file that is looked over: as they were chosen the last time or as their headings suggest, and what is said of each.
import type { Schemas } from '@/shared/api/client';
import type { Remembered } from './formats';

export type FileLook = Schemas['FileLook'];
export type ColumnLook = Schemas['ColumnLook'];
export type SheetLook = FileLook['sheets'][number];

/** Nobody writes down more rows than this by hand. */
const LIKELY_LOGGED = 100;

export interface Choice {
  ticked: boolean;
  target: string;
}

/** A quantity, which of its repeats, and whether it is their ±, as one text. */
export function write({ quantity, repeat, is_u }: Schemas['Target']): string {
  return JSON.stringify([quantity, repeat, is_u]);
}

export function readTarget(text: string): Schemas['Target'] {
  const [quantity, repeat, is_u] = JSON.parse(text) as [string, number, boolean];
  return { quantity, repeat, is_u };
}

export function headingsOf(sheet: SheetLook): string[] {
  return sheet.columns.map((column) => column.heading);
}

export function isLong(sheet: SheetLook | undefined): boolean {
  return (sheet?.rows ?? 0) > LIKELY_LOGGED;
}

/** The columns as they were chosen the last time, or as their headings suggest. */
export function begin(sheet: SheetLook | undefined, before: Remembered | null): Choice[] {
  return (sheet?.columns ?? []).map((column, i) => {
    const target = before ? before.columns[i] : column.target;
    return { ticked: Boolean(target), target: target ? write(target) : '' };
  });
}

/** What a column that is not in the lab book yet would be. */
export function nameNew({ quantity, repeat, is_u }: Schemas['Target'], columns: ColumnLook[]): string {
  const of = columns.find((c) => quantity === `new:${c.index}`)?.heading ?? '';
  return is_u ? `the ± of ${of}` : repeat > 0 ? `${of}, repeat ${repeat + 1}` : `a new one: ${of}`;
}

export function describe(column: ColumnLook, rows: number): string {
  const looked = column.numbers + column.blanks + column.texts;
  const parts = [`${column.numbers} ${column.numbers === 1 ? 'number' : 'numbers'}`];
  if (column.blanks) parts.push(`${column.blanks} blank`);
  if (column.texts) parts.push(`${column.texts} text`);
  if (column.words) parts.push(column.words);
  return (looked < rows ? `of the first ${looked}: ` : '') + parts.join(', ');
}
