// A paragraph of the bench's own as it is typed: saved when leaving it (which happens in time, see `leaveField`) and while pausing.
import { useEffect, useRef } from 'react';
import { useBook, useBookStore } from '@/shared/book/context';
import { useTyped } from './useTyped';

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
  const typed = useTyped(useSavedText(section));
  const dirty = typed.typing && typed.now !== typed.was;
  const latest = useRef(typed);
  useEffect(() => {
    latest.current = typed;
  });
  const save = () => {
    const { typing, now, was, send, forget } = latest.current;
    if (!typing) return;
    if (now === was) forget();
    else {
      send();
      store.edit({ type: 'write_text', section, text: now, was });
    }
  };
  useEffect(() => {
    if (!dirty) return;
    const timer = window.setTimeout(save, PAUSE);
    return () => window.clearTimeout(timer);
  });
  return { text: typed.now, dirty, change: typed.type, leave: save };
}
