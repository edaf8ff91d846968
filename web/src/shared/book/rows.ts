// The table as it should look now: what the server has, with the edits that are still on their way laid over it.
import type { BookState, Edit, Quantity, Schemas, Setting } from '@/shared/api/client';
import { type DecimalMark, withMark } from './decimalMark';
import { isWorded } from './quantities';
import type { Waiting } from './snapshot';
import { withUnit } from '@/shared/ui/withUnit';

export type ReadingEntry = Schemas['Reading'] | null;

export interface Row {
  id: string;
  setAside: string | null;
  readings: Record<string, ReadingEntry[]>;
}

export function cellKey(setting: string, quantity: string, repeat: number): string {
  return `${setting}:${quantity}:${repeat}`;
}

// the same setting is the same row, so that a table need not be drawn anew for one that has changed
const known = new WeakMap<Setting, Row>();

function toRow(setting: Setting): Row {
  const row = known.get(setting) ?? { id: setting.id, setAside: setting.set_aside ?? null, readings: setting.readings ?? {} };
  known.set(setting, row);
  return row;
}

/** Rows of a run with waiting edits applied. */
export function rowsOf(state: BookState, run: string, waiting: readonly Waiting[]): Row[] {
  const settings = state.document.runs.find((r) => r.id === run)?.settings ?? [];
  const rows = new Map(settings.map((s) => [s.id, toRow(s)]));
  const lay = (edit: Edit): void => {
    if (edit.type === 'batch') edit.edits.forEach(lay);
    else if (edit.type === 'add_setting' && edit.run === run && !rows.has(edit.setting))
      rows.set(edit.setting, { id: edit.setting, setAside: null, readings: {} });
    else if ((edit.type === 'fill_run' || edit.type === 'paste_table') && edit.run === run) rows.clear();
    else if (edit.type === 'remove_setting' && edit.run === run) rows.delete(edit.setting);
    else if (edit.type === 'set_reading' && edit.run === run) {
      const row = rows.get(edit.setting);
      if (!row) return;
      const entries = [...(row.readings[edit.quantity] ?? [])];
      while (entries.length <= edit.repeat) entries.push(null);
      entries[edit.repeat] = edit.text ? { text: edit.text, set_aside: edit.set_aside ?? null } : null;
      rows.set(row.id, { ...row, readings: { ...row.readings, [edit.quantity]: entries } });
    }
  };
  waiting.forEach((w) => lay(w.edit));
  return [...rows.values()];
}

/** What a setting is called: what was set, as it was written (L = 0.405 m); empty where nothing is written there. */
export function nameOfSetting(
  readings: Readonly<Record<string, ReadingEntry[]>> | undefined,
  first: Quantity | undefined,
  symbol: string,
  mark: DecimalMark,
): string {
  const text = first ? (readings?.[first.id]?.[0]?.text ?? '') : '';
  if (first && isWorded(first)) return text;
  return first && text ? `${symbol} = ${withUnit(withMark(text, mark), first.unit)}` : '';
}

export function textOf(row: Row | undefined, quantity: string, repeat: number): string {
  return row?.readings[quantity]?.[repeat]?.text ?? '';
}
