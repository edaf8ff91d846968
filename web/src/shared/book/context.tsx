// How the stages reach the lab book: `useBook` for what it holds, `useBookStore` for changing it.
import { type ReactNode, createContext, use, useEffect, useSyncExternalStore } from 'react';
import type { Analysis, Quantity, RichText, Schemas } from '@/shared/api/client';
import { plain } from '@/shared/ui/Rich';
import { fitsOf, graphsOf } from './choices';
import type { BookStore, Snapshot } from './store';

const StoreContext = createContext<BookStore | null>(null);

export function BookProvider({ store, children }: { store: BookStore; children: ReactNode }) {
  useEffect(() => store.open(), [store]);
  return <StoreContext value={store}>{children}</StoreContext>;
}

export function useBookStore(): BookStore {
  const store = use(StoreContext);
  if (!store) throw new Error('There is no lab book open here.');
  return store;
}

/** Shows what has happened to a cell (setting:quantity:repeat), or to the whole lab book for an empty text. */
export const HistoryContext = createContext<(cell: string) => void>(() => undefined);

interface OpenBook extends Snapshot {
  analysis: Analysis;
  quantities: Quantity[];
  graphs: Schemas['Graph'][];
  fits: Schemas['Fit'][];
  /** A quantity's symbol as it is typeset, and as plain text for lists and labels. */
  symbolOf: (quantity: string) => RichText;
  plainSymbolOf: (quantity: string) => string;
}

export function useBook(): OpenBook {
  const store = useBookStore();
  const snapshot = useSyncExternalStore(store.subscribe, store.read);
  const { state, waiting } = snapshot;
  const symbolOf = (quantity: string): RichText => {
    const found = state.analysis.runs[0]?.columns.find((c) => c.quantity === quantity)?.symbol;
    return found ?? [{ text: state.document.quantities.find((q) => q.id === quantity)?.symbol ?? '', style: 'italic' }];
  };
  return {
    ...snapshot,
    analysis: state.analysis,
    quantities: state.document.quantities,
    graphs: graphsOf(state, waiting),
    fits: fitsOf(state, waiting),
    symbolOf,
    plainSymbolOf: (quantity) => plain(symbolOf(quantity)),
  };
}
