// Asking the server about something that is being dragged: one question at a time, always about where it is now.
import { useEffect, useMemo, useRef, useState } from 'react';

/** The newest answer; while one is on its way, newer questions wait, and only the last of them is asked. `null` asks nothing. */
export function useLatest<Q, A>(question: Q | null, ask: (question: Q) => Promise<A>): A | undefined {
  const [answer, setAnswer] = useState<A>();
  const waiting = useRef<Q | null>(null);
  const busy = useRef(false);
  const asking = useRef(ask);
  useEffect(() => {
    asking.current = ask;
  });
  const key = useMemo(() => JSON.stringify(question), [question]);
  useEffect(() => {
    waiting.current = JSON.parse(key) as Q | null;
    const next = async () => {
      if (busy.current) return;
      busy.current = true;
      while (waiting.current !== null) {
        const now = waiting.current;
        waiting.current = null;
        // a question that cannot be answered (the point is gone) leaves the answer before as it is
        const found = await asking.current(now).catch(() => undefined);
        if (found !== undefined) setAnswer(found);
      }
      busy.current = false;
    };
    void next();
  }, [key]);
  return question === null ? undefined : answer;
}
