// Writing down what an instrument shows, as an ordinary edit in the table's next place.
import { useMemo } from 'react';
import { useBook, useBookStore } from '@/shared/book/context';
import { rowsOf } from '@/shared/book/rows';
import { namePlace, nextPlace, writeNext } from '@/shared/book/nextPlace';
import { withUnit } from '@/shared/ui/withUnit';

export interface WriteDown {
  /** `typed`: what is read by eye, which a plan always leaves to be written. */
  targetOf: (face: string, typed?: boolean) => { symbol: string; place: string } | null;
  /** Write it down, and say where. */
  write: (face: string, text: string, typed?: boolean) => string;
}

export function useWriteDown(here: boolean, logs: boolean): WriteDown {
  const { state, run, waiting, quantities, plainSymbolOf } = useBook(({ state, run, waiting, quantities, plainSymbolOf }) => ({
    state,
    run,
    waiting,
    quantities,
    plainSymbolOf,
  }));
  const store = useBookStore();
  const rows = useMemo(() => rowsOf(state, run, waiting), [run, state, waiting]);
  const { writes, writes_down: presses } = state.document.plan.rig;
  const table = state.document.runs.find((r) => r.id === run);

  const quantityOf = (face: string, typed: boolean) => {
    const found = quantities.find((q) => q.id === writes?.[face] && (q.kind === 'changed' || q.kind === 'measured'));
    // what a logger writes comes as a whole
    const open = here && (presses || typed) && !logs && state.can_edit && table && !table.log && !state.document.plan.given_runs.includes(run);
    return open && found && (!table.headings || table.headings.includes(found.id)) ? found : null;
  };
  return {
    targetOf: (face, typed = false) => {
      const quantity = quantityOf(face, typed);
      return quantity && { symbol: plainSymbolOf(quantity.id), place: namePlace(nextPlace(rows, quantity, store.whereLast()), quantity) };
    },
    write: (face, text, typed = false) => {
      const quantity = quantityOf(face, typed);
      if (!quantity || text === 'over' || !text) return '';
      return `${withUnit(text, quantity.unit)} written down: ${quantity.name}, ${writeNext(store, quantity, text)}`;
    },
  };
}
