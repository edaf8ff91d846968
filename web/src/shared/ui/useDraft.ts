// What has been written and not been sent yet: it outlives going to another hand-in and back, and a reload of the page.
import { useState } from 'react';
import { keepQuietly } from './keepQuietly';

const DRAFTS = 'draft: ';

/** Whoever comes next at this tab finds nothing of them. */
export function forgetDrafts(): void {
  for (const key of Object.keys(sessionStorage)) if (key.startsWith(DRAFTS)) keepQuietly(sessionStorage, key, null);
}

/** A draft under a name, or null; `next` may be made of the one before. */
export function useDraft<T>(name: string): [T | null, (next: T | null | ((before: T | null) => T | null)) => void] {
  const key = DRAFTS + name;
  const [draft, setDraft] = useState<T | null>(() => JSON.parse(sessionStorage.getItem(key) ?? 'null') as T | null);
  const keep = (next: T | null | ((before: T | null) => T | null)) =>
    setDraft((before) => {
      const becomes = typeof next === 'function' ? (next as (before: T | null) => T | null)(before) : next;
      keepQuietly(sessionStorage, key, becomes === null ? null : JSON.stringify(becomes));
      return becomes;
    });
  return [draft, keep];
}
