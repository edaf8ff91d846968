// Sending a form: whether it is on its way, and what went wrong last.
import { useState } from 'react';
import { Refusal } from '@/shared/api/client';

const TRY_AGAIN = 'That did not work. Try again.';

/** What went wrong last: in words, by its code, and at which field, if it was one. */
export interface Trouble {
  words: string;
  code: string;
  field: string;
}

const NONE: Trouble = { words: '', code: '', field: '' };

export function useSend(): [Trouble, (work: () => Promise<void>) => void, boolean] {
  const [trouble, setTrouble] = useState(NONE);
  const [busy, setBusy] = useState(false);
  const send = (work: () => Promise<void>) => {
    setBusy(true);
    setTrouble(NONE);
    work()
      .catch((e: unknown) =>
        setTrouble(e instanceof Refusal ? { words: e.message, code: e.code, field: e.field } : { ...NONE, words: e instanceof Error ? e.message : TRY_AGAIN }),
      )
      .finally(() => setBusy(false));
  };
  return [trouble, send, busy];
}
