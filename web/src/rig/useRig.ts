// A rig as it is now: what was done is sent, what will be shown comes back for half a minute, and is played by the clock.
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useState } from 'react';
import { Refusal, type Schemas, client, get } from '@/shared/api/client';
import { type Sitting, keepSitting, layOut, readSitting, roundSecond, secondsOf, withAct } from './sitting';

type RigView = Schemas['RigView'];

/** Steps before the last at which more is asked for. */
const AHEAD = 10;
const TRY_AGAIN = 4000;
/** Milliseconds without an act after which nothing is asked for any more. */
const ASLEEP = 5 * 60_000;

export interface PlayedRig {
  view: RigView | null;
  /** Which step is shown now. */
  step: number;
  trouble: string;
  /** What was done does not fit the rig; it has to be laid out anew. */
  spoiled: boolean;
  asleep: boolean;
  /** What was done last is not shown yet. */
  busy: boolean;
  act: (kind: string, value: string) => void;
  /** What a face shows after all that has been done; where that is not known yet, as soon as it is. */
  read: (face: string, then: (text: string) => void) => void;
  clear: () => void;
  wake: () => void;
  /** What was done until now, for who keeps a record of it. */
  now: () => Sitting & { start: number };
  /** Seconds since the moment that the view begins at. */
  elapsed: () => number;
}

function lookAt(book: number, sitting: Sitting): Promise<RigView> {
  const body = { hand: sitting.hand, acts: [...sitting.acts], start: roundSecond(secondsOf(sitting, Date.now())) };
  return get(client.POST('/api/books/{book_id}/rig', { params: { path: { book_id: book } }, body }));
}

export function useRig(book: number, rig: string): PlayedRig {
  const [sitting, setSitting] = useState<Sitting>(() => readSitting(book, rig, Date.now()));
  const [more, setMore] = useState(0);
  const [seen, setSeen] = useState<RigView | null>(null);
  const [step, setStep] = useState(0);
  const [touched, setTouched] = useState(() => Date.now());
  const [asleep, setAsleep] = useState(false);
  const queries = useQueryClient();
  const question = {
    queryKey: ['rig', book, rig, sitting.hand, sitting.acts.length, more],
    queryFn: () => lookAt(book, sitting),
    staleTime: Infinity,
    gcTime: 0,
    retry: false,
  };
  const { data, error } = useQuery({
    ...question,
    refetchOnReconnect: false,
    refetchInterval: ({ state }) => (state.error && !(state.error instanceof Refusal) ? TRY_AGAIN : false),
  });
  if (data && data !== seen) {
    setSeen(data);
    setStep(0);
  }
  const spoiled = error instanceof Refusal;

  useEffect(() => {
    if (!seen || asleep) return;
    const { start, every, shown } = seen.watched;
    const last = Math.max(...Object.values(shown).map((texts) => texts.length)) - 1;
    let asked = false;
    const timer = window.setInterval(() => {
      const now = Math.min(last, Math.max(0, Math.floor((secondsOf(sitting, Date.now()) - start) / every)));
      setStep(now);
      if (asked || now < last - AHEAD || document.hidden) return;
      asked = true;
      if (Date.now() - touched > ASLEEP) setAsleep(true);
      else setMore((n) => n + 1);
    }, 200);
    return () => window.clearInterval(timer);
  }, [asleep, seen, sitting, touched]);

  const wake = () => {
    setTouched(Date.now());
    if (!asleep) return;
    setAsleep(false);
    setMore((n) => n + 1);
  };
  const start = seen?.watched.start ?? 0;
  const elapsed = useCallback(() => Math.max(0, secondsOf(sitting, Date.now()) - start), [sitting, start]);
  const become = (next: Sitting) => {
    keepSitting(book, rig, next);
    setSitting(next);
    wake();
  };
  return {
    view: seen,
    step,
    trouble: !error ? '' : spoiled ? error.message : 'The apparatus stands still, for the server cannot be reached. The table goes on.',
    spoiled,
    asleep,
    busy: !data && !error,
    act: (kind, value) => become(withAct(sitting, kind, value, Date.now())),
    read: (face, then) => {
      wake();
      if (data) then(data.watched.shown[face]?.[step] ?? '');
      else if (!error)
        void queries.query(question).then(
          (view) => then(view.watched.shown[face]?.[0] ?? ''),
          () => undefined, // what went wrong is said above the bench
        );
    },
    clear: () => become(layOut(Date.now())),
    wake,
    now: () => ({ ...sitting, start: roundSecond(secondsOf(sitting, Date.now())) }),
    elapsed,
  };
}
