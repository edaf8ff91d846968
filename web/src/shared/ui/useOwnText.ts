// A paragraph of the bench's own as it is typed: saved when leaving it (which happens in time, see `leaveField`) and while pausing.
import { useEffect } from 'react';
import { useBook, useBookStore } from '@/shared/book/context';
import { useLeaving, useTyped } from './useTyped';

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
  const leaving = useLeaving(() => {
    if (!dirty) typed.forget();
    else {
      typed.send();
      store.edit({ type: 'write_text', section, text: typed.now, was: typed.was });
    }
  });
  useEffect(() => {
    if (!dirty) return;
    const timer = window.setTimeout(leaving.leave, PAUSE);
    return () => window.clearTimeout(timer);
  });
  const change = (text: string) => {
    leaving.typed();
    typed.type(text);
  };
  return { text: typed.now, dirty, change, leave: leaving.leave };
}
