// What the server says about the cells of a run.
import { useMemo } from 'react';
import type { Schemas } from '@/shared/api/client';
import { useBook } from '@/shared/book/context';
import { cellKey } from '@/shared/book/rows';
import type { TableNotes } from './SettingBand';

/** Found by cell. */
export function useTableNotes(run: string): TableNotes {
  const { state, analysis, refused } = useBook(({ state, analysis, refused }) => ({ state, analysis, refused }));
  return useMemo(() => {
    const columns = analysis.runs.find((r) => r.run === run)?.columns ?? [];
    const readings = new Map<string, Schemas['ReadingNote']>();
    for (const column of columns) for (const note of column.notes) readings.set(cellKey(note.setting, column.quantity, note.repeat), note);
    const slips = new Map<string, string>();
    for (const slip of analysis.slips) if (slip.run === run) slips.set(cellKey(slip.setting, slip.quantity, slip.repeat ?? 0), slip.message.text);
    const others = new Map(state.present.filter((p) => p.place).map((p) => [p.place, p.name]));
    const kept = new Map<string, string>();
    for (const { edit, words } of refused)
      if (edit.type === 'set_reading' && edit.run === run) kept.set(cellKey(edit.setting, edit.quantity, edit.repeat), `Not kept: ${words}`);
    return { columns: new Map(columns.map((c) => [c.quantity, c])), readings, refused: kept, slips, others };
  }, [analysis, refused, run, state.present]);
}
