// Suppose a number of a model were another: while its slider moves, the server is asked, and nothing is changed.
import { useState } from 'react';
import { type Schemas, client, get } from '@/shared/api/client';
import { useBook } from '@/shared/book/context';
import { useLatest } from '@/shared/ui/useLatest';

export interface Supposed {
  /** In words, as long as something is supposed that the lab book does not say. */
  words: string;
  shown: Schemas['WhatIf'] | undefined;
  suppose: (item: string, symbol: string, value: string) => void;
}

/** `card` is what the lab book says now: whatever was supposed before it is past. */
export function useSuppose(fit: string, card: Schemas['FitResult'] | undefined): Supposed {
  const { state, run } = useBook(({ state, run }) => ({ state, run }));
  const [asked, setAsked] = useState<{ item: string; symbol: string; value: string; card: unknown } | null>(null);
  const now = asked && asked.card === card ? asked : null;
  const shown = useLatest(now ? { fit, run, item: now.item, value: now.value } : null, (query) =>
    get(client.GET('/api/books/{book_id}/suppose', { params: { path: { book_id: state.id }, query } })),
  );
  return {
    words: now ? `Suppose ${now.symbol} = ${now.value}.` : '',
    shown,
    suppose: (item, symbol, value) => setAsked({ item, symbol, value, card }),
  };
}
