// The cells of the ruled table, and the edits that write into them.
import type { Edit, Quantity, Schemas } from '@/shared/api/client';
import { newId } from '@/shared/book/newId';
import { type Row, textOf } from '@/shared/book/rows';

/** A column of cells: one repeat of one quantity. */
export interface Slot {
  quantity: Quantity;
  repeat: number;
}

export interface CellText {
  row: Row;
  slot: Slot;
  text: string;
  /** What stood there when typing began; else what stands there now. */
  was?: string;
}

type SingleEdit = Schemas['Batch']['edits'][number];

/** Signs that a reading has at most. */
export const LONGEST = 60;

export const newSetting = () => newId('s');

export function slotsOf(columns: readonly Quantity[]): Slot[] {
  return columns.flatMap((quantity) => Array.from({ length: quantity.repeats }, (_, repeat) => ({ quantity, repeat })));
}

/** Edits that write texts into cells, without those that stand there already. A setting that is not in the run yet is added first. */
export function writeCells(run: string, rows: readonly Row[], cells: readonly CellText[]): SingleEdit[] {
  const known = new Set(rows.map((r) => r.id));
  const edits: SingleEdit[] = [];
  for (const { row, slot, text, was } of cells) {
    const now = textOf(row, slot.quantity.id, slot.repeat);
    if (text.slice(0, LONGEST) === now) continue;
    const here = known.has(row.id);
    if (!here) {
      known.add(row.id);
      edits.push({ type: 'add_setting', run, setting: row.id, at: null });
    }
    edits.push({
      type: 'set_reading',
      run,
      setting: row.id,
      quantity: slot.quantity.id,
      repeat: slot.repeat,
      text: text.slice(0, LONGEST),
      was: here ? (was ?? now) : '',
      set_aside: null,
    });
  }
  return edits;
}

/** One edit, or several as one change. */
export function together(edits: readonly SingleEdit[], words: string): Edit | null {
  const [only] = edits;
  if (!only) return null;
  return edits.length === 1 ? only : { type: 'batch', words, edits: [...edits] };
}

/** Where writing goes on: the first cell that is still blank, by column or by row as Enter moves; below the last setting where none is. */
export function nextBlank(rows: readonly Row[], slots: readonly Slot[], direction: 'down' | 'across'): [number, number] {
  const isBlank = (r: number, c: number) => {
    const [row, slot] = [rows[r], slots[c]];
    return row !== undefined && slot !== undefined && row.setAside === null && !textOf(row, slot.quantity.id, slot.repeat);
  };
  const places = rows.flatMap((_, r) => slots.map((__, c): [number, number] => [r, c]));
  if (direction === 'down') places.sort((a, b) => a[1] - b[1] || a[0] - b[0]);
  return places.find(([r, c]) => isBlank(r, c)) ?? [rows.length, 0];
}

/** Decimals of a plain number as it is written; null where it is none. */
export function decimalsOf(text: string): number | null {
  const found = /^[-−+]?\d+(?:[.,](\d*))?$/.exec(text.trim());
  return found ? (found[1]?.length ?? 0) : null;
}

/** Places that a reading lacks beside the longest of its column, its point counted where it has none. */
export function lackOf(text: string, most: number): number {
  const own = decimalsOf(text);
  return own === null || most === 0 ? 0 : most - own + (own === 0 ? 1 : 0);
}

/** Most decimals of the readings of each quantity. */
export function decimalsIn(columns: readonly Quantity[], rows: readonly Row[]): Map<string, number> {
  const most = new Map<string, number>();
  for (const { id } of columns)
    for (const row of rows) for (const entry of row.readings[id] ?? []) if (entry) most.set(id, Math.max(most.get(id) ?? 0, decimalsOf(entry.text) ?? 0));
  return most;
}

/** 1 reading, 3 readings. */
export function count(n: number, noun: string): string {
  return `${n} ${noun}${n === 1 ? '' : 's'}`;
}
