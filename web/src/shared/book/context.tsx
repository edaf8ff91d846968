// How the stages reach the lab book: `useBook` for what it holds, `useBookStore` for changing it.
import { type ReactNode, createContext, use, useEffect, useSyncExternalStore } from 'react';
import type { Analysis, Quantity } from '@/shared/api/client';
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

export function useBook(): Snapshot & { analysis: Analysis; quantities: Quantity[] } {
  const store = useBookStore();
  const snapshot = useSyncExternalStore(store.subscribe, store.read);
  return { ...snapshot, analysis: snapshot.state.analysis, quantities: snapshot.state.document.quantities };
}
