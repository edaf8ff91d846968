// Where what an instrument shows is written: the cell of its quantity that one has come to, or the first that is blank.
import type { Edit, Quantity } from '@/shared/api/client';
import { newSetting, together, writeCells } from '@/shared/book/cells';
import { type Row, cellKey, rowsOf, textOf } from '@/shared/book/rows';
import type { OpenStore } from '@/shared/book/store';

export interface NextPlace {
  row: Row;
  /** Which setting of the table, from 1. */
  number: number;
  repeat: number;
}

/** The next place for a quantity, row by row and repeat by repeat; below the last setting where all are filled. */
export function nextPlace(rows: readonly Row[], quantity: Quantity, cameTo: string): NextPlace {
  const places = rows
    .flatMap((row, i) => Array.from({ length: quantity.repeats }, (_, repeat) => ({ row, number: i + 1, repeat })))
    .filter(({ row, repeat }) => row.setAside === null && !textOf(row, quantity.id, repeat));
  return (
    places.find(({ row, repeat }) => cellKey(row.id, quantity.id, repeat) === cameTo) ??
    places[0] ?? { row: { id: newSetting(), setAside: null, readings: {} }, number: rows.length + 1, repeat: 0 }
  );
}

export function namePlace({ number, repeat }: NextPlace, quantity: Quantity): string {
  return `setting ${number}${quantity.repeats > 1 ? `, repeat ${repeat + 1}` : ''}`;
}

export function writeAt(run: string, rows: readonly Row[], quantity: Quantity, place: NextPlace, text: string): Edit | null {
  const edits = writeCells(run, rows, [{ row: place.row, slot: { quantity, repeat: place.repeat }, text }]);
  return together(edits, `new setting, ${quantity.symbol}: ${text}`);
}

/** Write something into the next place of a quantity, and say which that is. What was written a moment ago may not be drawn yet, so it is asked
 *  of the store. */
export function writeNext(store: OpenStore, quantity: Quantity, text: string): string {
  const { state, run, waiting } = store.read();
  const rows = rowsOf(state, run, waiting);
  const place = nextPlace(rows, quantity, store.whereLast());
  const edit = writeAt(run, rows, quantity, place, text);
  if (edit) store.edit(edit);
  return namePlace(place, quantity);
}
