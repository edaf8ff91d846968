// The marks on what is measured, kept on this device after each change, and what follows from them.
import { useEffect, useMemo, useRef, useState } from 'react';
import { type Quantity, Refusal, type Schemas, client, get } from '@/shared/api/client';
import { useMe } from '@/shared/api/session';
import { useBook } from '@/shared/book/context';
import { readIn } from '@/shared/book/quantities';
import { useLatest } from '@/shared/ui/useLatest';
import type { Frames } from './frames';
import { type Work, askedOf, beginWork, isAbout, isBlank, keepWork, readWork } from './marks';

export type MarksView = Schemas['MarksView'];

const TRY_AGAIN = 3000;

/** What was left on this device in this lab book, unless there is nothing in it. */
export function useLeftWork(): Work | null {
  const { id } = useMe();
  const { book } = useBook(({ state }) => ({ book: state.id }));
  const [left] = useState(() => readWork(id, book));
  return left && !isBlank(left) ? left : null;
}

export function useWork(frames: Frames): { work: Work; change: (next: (before: Work) => Work) => void } {
  const { id } = useMe();
  const { book } = useBook(({ state }) => ({ book: state.id }));
  const [work, setWork] = useState<Work>(() => {
    const left = readWork(id, book);
    return left && isAbout(left, frames) ? left : beginWork(frames);
  });
  const change = (next: (before: Work) => Work) =>
    setWork((before) => {
      const after = next(before);
      // a look at another film takes nothing from the one before; the last mark that is taken away is gone
      if (!isBlank(after) || !isBlank(before)) keepWork(id, book, after);
      return after;
    });
  return { work, change };
}

export interface Units {
  length: string;
  time: string;
  angle: string;
}

export const USUAL: Units = { length: '', time: 's', angle: 'deg' };

/** Of what is read: into these columns something could be written. */
const unitsOf = (quantities: readonly Quantity[]) => readIn(quantities).map((q) => q.unit);

export interface Measured {
  /** What follows from the marks; while it is asked for, what followed from those before. */
  view: MarksView | null;
  /** It follows from these very marks, in these very units. */
  isCurrent: boolean;
  /** Something that was typed cannot be worked with. */
  trouble: string;
  /** The server cannot be reached: marking goes on, and what follows comes later. */
  away: boolean;
}

export function useMeasured(work: Work, times: readonly number[] | null, units: Units = USUAL): Measured {
  const { book, quantities } = useBook(({ state, quantities }) => ({ book: state.id, quantities }));
  const [away, setAway] = useState(false);
  const [answer, setAnswer] = useState<{ of: string; view: MarksView } | null>(null);
  const here = useRef(true);
  useEffect(() => {
    here.current = true;
    return () => {
      here.current = false;
    };
  }, []);
  const ask = async (marks: Schemas['Marks']): Promise<string> => {
    while (here.current) {
      try {
        const view = await get(client.POST('/api/books/{book_id}/measured', { params: { path: { book_id: book } }, body: { marks } }));
        setAnswer({ of: JSON.stringify(marks), view });
        setAway(false);
        return '';
      } catch (trouble) {
        if (trouble instanceof Refusal) {
          setAway(false);
          return trouble.message;
        }
        setAway(true);
        await new Promise((done) => window.setTimeout(done, TRY_AGAIN));
      }
    }
    return '';
  };
  const { length, time, angle } = units;
  // the mouse moves over a film much more often than a mark is set
  const asked = useMemo(() => askedOf(work, times, { length, time, angle }, unitsOf(quantities)), [work, times, length, time, angle, quantities]);
  const question = useMemo(() => JSON.stringify(asked), [asked]);
  const trouble = useLatest(asked, ask) ?? '';
  return { view: answer?.view ?? null, isCurrent: answer?.of === question, trouble, away };
}
