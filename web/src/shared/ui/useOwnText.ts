// A paragraph of the bench's own as it is typed: saved when leaving it (which happens in time, see `leaveField`) and while pausing.
import { useEffect, useRef, useState } from 'react';
import { useBook, useBookStore } from '@/shared/book/context';

const PAUSE = 1200;

export interface OwnTextState {
  text: string;
  dirty: boolean;
  change: (text: string) => void;
  leave: () => void;
}

/** The text as it stands, with what is still on its way to the server. */
function useSavedText(section: string): string {
  const { state, waiting } = useBook(({ state, waiting }) => ({ state, waiting }));
  let text = state.document.texts?.[section] ?? '';
  for (const w of waiting) if (w.edit.type === 'write_text' && w.edit.section === section) text = w.edit.text;
  return text;
}

export function useOwnText(section: string): OwnTextState {
  const store = useBookStore();
  const saved = useSavedText(section);
  const [draft, setDraft] = useState<string | null>(null);
  const latest = useRef({ draft, saved });
  useEffect(() => {
    latest.current = { draft, saved };
  });
  const save = () => {
    const now = latest.current;
    if (now.draft === null || now.draft === now.saved) return;
    store.edit({ type: 'write_text', section, text: now.draft, was: now.saved });
  };
  useEffect(() => {
    if (draft === null) return;
    const timer = window.setTimeout(save, PAUSE);
    return () => window.clearTimeout(timer);
  });
  return {
    text: draft ?? saved,
    dirty: draft !== null && draft !== saved,
    change: setDraft,
    leave: () => {
      save();
      setDraft(null);
    },
  };
}
