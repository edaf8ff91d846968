// What if: a point lifted or left out for a moment. The reading itself is never changed from a graph.
import { useCallback, useState } from 'react';
import { type Schemas, client, get } from '@/shared/api/client';
import { useBook } from '@/shared/book/context';
import { useLatest } from '@/shared/ui/useLatest';

export interface WhatIfState {
  /** The point that is lifted or left out, and what follows. */
  key: string | null;
  lifted: boolean;
  shown: Schemas['WhatIf'] | undefined;
  lift: (key: string, y: number | undefined) => void;
  leaveOut: (key: string | null) => void;
}

export function useWhatIf(fit: string | undefined): WhatIfState {
  const { state, run } = useBook(({ state, run }) => ({ state, run }));
  const [asked, setAsked] = useState<{ key: string; y: number | null } | null>(null);
  const shown = useLatest(asked && fit ? { fit, run, key: asked.key, ...(asked.y === null ? {} : { y: asked.y }) } : null, (query) =>
    get(client.GET('/api/books/{book_id}/what-if', { params: { path: { book_id: state.id }, query } })),
  );
  // the same function throughout, or every point would be drawn again with each move of another
  const lift = useCallback((key: string, y: number | undefined) => setAsked(y === undefined ? null : { key, y }), []);
  return {
    key: asked?.key ?? null,
    lifted: asked !== null && asked.y !== null,
    shown,
    lift,
    leaveOut: (key) => setAsked(key === null ? null : { key, y: null }),
  };
}
