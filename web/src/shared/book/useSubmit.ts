// Sending the edit of a form, which stays open with what was typed until that is kept; see decision 53.
import { useEffect, useRef, useState } from 'react';
import type { Edit } from '@/shared/api/client';
import { useBookStore } from './context';

/** What mostly takes a moment need not show that it works. */
const SLOW = { delay: 300 };

export function useSubmit() {
  const store = useBookStore();
  const [refusal, setRefusal] = useState('');
  const [sent, setSent] = useState(false);
  const onItsWay = useRef(false);
  const askNoMore = useRef<(() => void) | null>(null);
  const sentAway = useRef<(() => void) | null>(null);
  useEffect(
    () => () => {
      askNoMore.current?.();
      if (onItsWay.current) sentAway.current?.();
    },
    [],
  );
  /**
   * `kept` closes the form, or empties it. `left` lets go of what had been begun where the form goes before its edit is answered: what becomes
   * of that is then told elsewhere.
   */
  const submit = (edit: Edit, kept: () => void, left?: () => void) => {
    // a second press while the first is on its way
    if (onItsWay.current) return;
    onItsWay.current = true;
    sentAway.current = left ?? null;
    setRefusal('');
    setSent(true);
    askNoMore.current = store.submit(edit, (why) => {
      onItsWay.current = false;
      setSent(false);
      setRefusal(why);
      if (!why) kept();
    });
  };
  return { submit, busy: sent && SLOW, refusal };
}
