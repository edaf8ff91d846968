// How the stages reach the lab book: `useBook` for what it holds, `useBookStore` for changing it.
import { type ReactNode, createContext, use, useEffect, useRef, useSyncExternalStore } from 'react';
import type { Analysis, Quantity, RichText, Schemas } from '@/shared/api/client';
import { plain } from '@/shared/ui/Rich';
import { fitsOf, graphsOf } from './choices';
import type { DecimalMark } from './decimalMark';
import type { Snapshot } from './snapshot';
import type { OpenStore } from './store';

const StoreContext = createContext<OpenStore | null>(null);

export function BookProvider({ store, children }: { store: OpenStore; children: ReactNode }) {
  useEffect(() => store.open(), [store]);
  return <StoreContext value={store}>{children}</StoreContext>;
}

/** What the class calls how steep a line is. */
export function useSlopeWord(): 'gradient' | 'slope' {
  return useBook(({ state }) => ({ word: state.document.convention.slope_word })).word;
}

/** With which mark the class writes numbers. */
export function useDecimalMark(): DecimalMark {
  return useBook(({ state }) => ({ mark: state.document.convention.decimal_mark })).mark;
}

export function useBookStore(): OpenStore {
  const store = use(StoreContext);
  if (!store) throw new Error('There is no lab book open here.');
  return store;
}

/** Shows what has happened to a cell (setting:quantity:repeat), or to the whole lab book for an empty text. */
export const HistoryContext = createContext<(cell: string) => void>(() => undefined);

export interface OpenBook extends Snapshot {
  analysis: Analysis;
  quantities: Quantity[];
  graphs: Schemas['Graph'][];
  fits: Schemas['Fit'][];
  /** A quantity's symbol as it is typeset, and as plain text for lists and labels. */
  symbolOf: (quantity: string) => RichText;
  plainSymbolOf: (quantity: string) => string;
}

// made once for each snapshot, whoever asks
const opened = new WeakMap<Snapshot, OpenBook>();

function openBook(snapshot: Snapshot): OpenBook {
  const known = opened.get(snapshot);
  if (known) return known;
  const { state, waiting } = snapshot;
  const analysis = placed(state.analysis, state.placed);
  const book: OpenBook = {
    ...snapshot,
    analysis,
    quantities: state.document.quantities,
    graphs: graphsOf(state, waiting),
    fits: fitsOf(state, waiting),
    ...symbolsOf(analysis, state.document.quantities),
  };
  opened.set(snapshot, book);
  return book;
}

// made once as well, for whoever looks whether it is another
const marked = new WeakMap<Analysis, { by: Schemas['StageMark'][]; found: Analysis }>();

/** The analysis with the stations that the class decides of marked by it. */
function placed(analysis: Analysis, marks: Schemas['StageMark'][]): Analysis {
  const known = marked.get(analysis);
  if (known?.by === marks) return known.found;
  const found = { ...analysis, stages: analysis.stages.map((stage) => marks.find((m) => m.stage === stage.stage) ?? stage) };
  marked.set(analysis, { by: marks, found });
  return found;
}

// the same functions as long as nothing that they look at has changed, so that nobody is drawn anew for them
const symbols = new WeakMap<Analysis, { of: Quantity[]; found: Pick<OpenBook, 'symbolOf' | 'plainSymbolOf'> }>();

function symbolsOf(analysis: Analysis, quantities: Quantity[]): Pick<OpenBook, 'symbolOf' | 'plainSymbolOf'> {
  const known = symbols.get(analysis);
  if (known?.of === quantities) return known.found;
  const symbolOf = (quantity: string): RichText => {
    const found = analysis.runs[0]?.columns.find((c) => c.quantity === quantity)?.symbol;
    return found ?? [{ text: quantities.find((q) => q.id === quantity)?.symbol ?? '', style: 'italic' }];
  };
  const found = { symbolOf, plainSymbolOf: (quantity: string) => plain(symbolOf(quantity)) };
  symbols.set(analysis, { of: quantities, found });
  return found;
}

/** What a component needs of the lab book; it is drawn anew when one of these parts has become another. */
export function useBook<T extends object>(select: (book: OpenBook) => T): T {
  const store = useBookStore();
  const last = useRef<T | null>(null);
  const read = (): T => {
    const now = select(openBook(store.read()));
    if (!last.current || !sameParts(last.current, now)) last.current = now;
    return last.current;
  };
  return useSyncExternalStore(store.subscribe, read);
}

function sameParts(a: object, b: object): boolean {
  const [left, right] = [Object.entries(a), Object.entries(b)];
  return left.length === right.length && left.every(([key, part], i) => right[i]?.[0] === key && Object.is(part, right[i][1]));
}
