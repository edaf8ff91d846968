// What has been written and not been sent yet: it outlives another station, another page and a reload; see decision 64.
import { useRef, useState } from 'react';
import { keepQuietly } from './keepQuietly';

const DRAFTS = 'draft: ';

/** Whoever comes next at this tab finds nothing of them. */
export function forgetDrafts(): void {
  for (const key of Object.keys(sessionStorage)) if (key.startsWith(DRAFTS)) keepQuietly(sessionStorage, key, null);
}

/** What is begun under a name, or null. */
export function readDraft(name: string): unknown {
  return JSON.parse(sessionStorage.getItem(DRAFTS + name) ?? 'null');
}

export function keepDraft(name: string, draft: unknown): void {
  keepQuietly(sessionStorage, DRAFTS + name, draft === null ? null : JSON.stringify(draft));
}

/** A draft under a name, or null; `next` may be made of the one before. */
export function useDraft<T>(name: string): [T | null, (next: T | null | ((before: T | null) => T | null)) => void] {
  const [held, hold] = useState(() => ({ name, draft: readDraft(name) as T | null }));
  const newest = useRef(held);
  // what is drawn may become about another thing, whose draft this is not
  const draftIn = (of: typeof held) => (of.name === name ? of.draft : (readDraft(name) as T | null));
  const keep = (next: T | null | ((before: T | null) => T | null)) => {
    const draft = typeof next === 'function' ? (next as (before: T | null) => T | null)(draftIn(newest.current)) : next;
    newest.current = { name, draft };
    // at once: what is drawn may be gone before it would be drawn anew
    keepDraft(name, draft);
    hold(newest.current);
  };
  return [draftIn(held), keep];
}

/** Words that are begun under a name: empty where none are. */
export function useBegunWords(name: string): [string, (text: string) => void] {
  const [draft, keep] = useDraft<string>(name);
  return [draft ?? '', (text) => keep(text || null)];
}

/** What is opened again with a change that was begun: the fields that are changed as they were then, all others as they are now. */
export function asItWas<T extends object>(opened: T, then: T, changed: readonly (keyof T)[]): T {
  return { ...opened, ...Object.fromEntries(changed.map((name) => [name, then[name]])) };
}
