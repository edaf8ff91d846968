// Which bands of the table are in the page, and the way to a cell: a long table keeps only those in sight, and the one with the focus.
import { defaultRangeExtractor, useVirtualizer } from '@tanstack/react-virtual';
import { useCallback, useEffect, useRef, useState } from 'react';
import { flushSync } from 'react-dom';
import { useBook } from '@/shared/book/context';
import type { Row } from '@/shared/book/rows';
import { type Slot, nextBlank } from '@/shared/book/cells';
import type { Direction } from './direction';
import { typeOut } from './typing';
import type { Arrival } from './useHeadings';

const LONG = 60;
const BAND = 38;
const NEAREST = { block: 'nearest', inline: 'nearest' } as const;

interface Wanted {
  run: string;
  rows: readonly Row[];
  /** With the spare one. */
  shown: readonly Row[];
  slots: Slot[];
  direction: Direction;
  editable: boolean;
  touch: boolean;
  /** The band and the column with the focus. */
  focused: [number, number] | undefined;
  /** The column that has just been made, whose first cell is gone to and typed into. */
  arrived: () => Arrival | null;
}

export function useBands({ run, rows, shown, slots, direction, editable, touch, focused, arrived }: Wanted) {
  const { goTo, seen } = useBook(({ goTo, run }) => ({ goTo, seen: run }));
  const scroller = useRef<HTMLDivElement>(null);
  const wanted = useRef<{ at: [number, number]; typed: readonly string[] } | null>(null);
  const long = shown.length > LONG;
  const [going, setGoing] = useState<number | null>(null);
  const [row, column] = focused ?? [];
  const held = [row, going].filter((of) => of !== undefined && of !== null && of < shown.length) as number[];
  // eslint-disable-next-line react-hooks/incompatible-library -- what it returns is used here alone, in every render anew
  const virtual = useVirtualizer({
    count: shown.length,
    enabled: long,
    getScrollElement: () => scroller.current,
    getItemKey: (i) => shown[i]?.id ?? i,
    estimateSize: () => BAND,
    overscan: 10,
    // the band with the focus stays in the page, wherever the table is scrolled to, so that no draft is lost
    rangeExtractor: (range) => {
      return [...new Set([...defaultRangeExtractor(range), ...held])].sort((a, b) => a - b);
    },
  });

  const focusCell = useCallback(
    (row: number, column: number) => {
      const find = () => scroller.current?.querySelector<HTMLInputElement>(`input[data-at="${row}:${column}"]`);
      if (!find() && row < shown.length) {
        // out of sight: brought into the page at once, or the next key would still go to the cell before
        flushSync(() => setGoing(row));
        virtual.scrollToIndex(row, { align: 'auto' });
      }
      const cell = find();
      if (cell) {
        cell.focus({ preventScroll: true });
        cell.select();
        cell.scrollIntoView(NEAREST);
      } else {
        wanted.current = { at: [row, column], typed: [] };
      }
    },
    [shown.length, virtual],
  );

  // what can be done with a row is shown where its cell may be: that comes up from under it
  useEffect(() => {
    if (row !== undefined) scroller.current?.querySelector(`input[data-at="${row}:${column}"]`)?.scrollIntoView(NEAREST);
  }, [row, column]);

  // a cell that is not in the page yet (below the last setting) gets the focus as soon as it is
  useEffect(() => {
    const made = arrived();
    if (made) wanted.current = { at: [0, made.column], typed: made.typed };
    if (!wanted.current) return;
    const { at, typed } = wanted.current;
    if (!scroller.current?.querySelector(`input[data-at="${at[0]}:${at[1]}"]`)) return;
    wanted.current = null;
    // whoever has gone somewhere else meanwhile is left there
    const here = document.activeElement;
    if (here && here !== document.body && !scroller.current.contains(here)) return;
    focusCell(...at);
    typeOut(typed);
  });

  // who comes to the table goes on writing where it stops; a touch screen shows its keys only when asked
  useEffect(() => {
    const isLed = goTo !== null && Date.now() - goTo.turn < 1000;
    const isPegged = Boolean(scroller.current?.closest('.book-pegged'));
    if (editable && !touch && !isLed && !isPegged && run === seen && slots.length > 0) focusCell(...nextBlank(rows, slots, direction));
    // on arrival only
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);

  useEffect(() => {
    if (!goTo) return;
    const [setting = '', quantity = '', repeat = '0'] = goTo.cell.split(':');
    const row = rows.findIndex((r) => r.id === setting);
    // after this drawing of the table, for a band out of sight is drawn by the way
    queueMicrotask(() => {
      if (row >= 0)
        focusCell(
          row,
          Math.max(
            0,
            slots.findIndex((s) => s.quantity.id === quantity && s.repeat === Number(repeat)),
          ),
        );
      scroller.current?.querySelector(`input[data-cell="${goTo.cell}"]`)?.scrollIntoView({ block: 'center' });
    });
    // only when somebody asks to go there, not whenever the table changes
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [goTo]);

  const focusLater = (at: [number, number] | null) => {
    wanted.current = at && { at, typed: [] };
  };
  return { scroller, virtual, long, focusCell, focusLater };
}

/** The room of the bands that are not in the page. */
export function Gap({ height }: { height: number }) {
  return (
    height > 0 && (
      <tbody aria-hidden="true">
        <tr style={{ height }} />
      </tbody>
    )
  );
}
