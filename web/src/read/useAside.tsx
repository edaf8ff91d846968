// Setting readings or a whole setting aside: the question for the reason, and the edits that come of its answer.
import { type ReactNode, useState } from 'react';
import { useBookStore, useDecimalMark } from '@/shared/book/context';
import { withMark } from '@/shared/book/decimalMark';
import type { Row } from '@/shared/book/rows';
import { AsideForm, type AsideTarget } from './AsideForm';
import { type Slot, count, together } from '@/shared/book/cells';
import { withUnit } from '@/shared/ui/withUnit';

interface Props {
  run: string;
  slots: Slot[];
  nameOf: (row: Row) => string;
  focusCell: (row: number, column: number) => void;
}

const entryAt = (row: Row, { quantity, repeat }: Slot) => row.readings[quantity.id]?.[repeat] ?? null;

export function useAside({ run, slots, nameOf, focusCell }: Props) {
  const store = useBookStore();
  const mark = useDecimalMark();
  const [target, setTarget] = useState<AsideTarget | null>(null);

  const reading = (row: Row, slot: Slot) => {
    const place = { setting: row.id, quantity: slot.quantity.id, repeat: slot.repeat };
    const entry = entryAt(row, slot);
    if (entry?.set_aside) store.edit({ type: 'set_aside', run, ...place, reason: null });
    else if (entry)
      setTarget({ setting: row.id, readings: [place], words: `${slot.quantity.symbol} = ${withUnit(withMark(entry.text, mark), slot.quantity.unit)}` });
  };

  const setting = (row: Row) => {
    if (row.setAside) store.edit({ type: 'set_aside', run, setting: row.id, quantity: null, repeat: null, reason: null });
    else setTarget({ setting: row.id, readings: [], words: nameOf(row) });
  };

  const block = (cells: readonly { row: Row; slot: Slot }[]) => {
    const readings = cells.flatMap(({ row, slot }) =>
      entryAt(row, slot) && !entryAt(row, slot)?.set_aside ? [{ setting: row.id, quantity: slot.quantity.id, repeat: slot.repeat }] : [],
    );
    const [first] = readings;
    if (first) setTarget({ setting: first.setting, readings, words: readings.length > 1 ? `these ${readings.length} readings` : 'this reading' });
  };

  const answer = (row: number, asked: AsideTarget, reason: string, onwards: boolean) => {
    if (reason && onwards) store.edit({ type: 'set_aside_from', run, setting: asked.setting, reason }, 'Everything from here on was set aside.');
    else if (reason && !asked.readings.length) store.edit({ type: 'set_aside', run, setting: asked.setting, quantity: null, repeat: null, reason });
    else if (reason) {
      const edit = together(
        asked.readings.map((place) => ({ type: 'set_aside' as const, run, ...place, reason })),
        `set aside ${count(asked.readings.length, 'reading')}: ${reason}`.slice(0, 200),
      );
      if (edit) store.edit(edit);
    }
    setTarget(null);
    const first = asked.readings[0];
    focusCell(
      row,
      Math.max(
        0,
        slots.findIndex((s) => s.quantity.id === first?.quantity && s.repeat === first.repeat),
      ),
    );
  };

  /** The question under a setting, where one is asked of it. */
  const question = (row: Row, place: number, width: number): ReactNode =>
    target?.setting === row.id ? <AsideForm target={target} width={width} onDone={(reason, onwards) => answer(place, target, reason, onwards)} /> : null;

  return { reading, setting, block, question };
}
