// The marks on what is measured, kept on this device after each change, and what follows from them.
import { useState } from 'react';
import { type Schemas, client, get } from '@/shared/api/client';
import { useMe } from '@/shared/api/session';
import { useBook } from '@/shared/book/context';
import { useLatest } from '@/shared/ui/useLatest';
import type { Frames } from './frames';
import { type Work, askedOf, beginWork, isAbout, isBlank, keepWork, readWork } from './marks';

export type MarksView = Schemas['MarksView'];

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
      // a look at another film takes nothing from the one before
      if (!isBlank(after)) keepWork(id, book, after);
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

/** What follows from the marks; while it is asked for, what followed from those before. A refusal is its sentence. */
export function useMeasured(work: Work, times: readonly number[] | null, units: Units = USUAL): MarksView | string | undefined {
  const { book } = useBook(({ state }) => ({ book: state.id }));
  return useLatest(askedOf(work, times, units), (marks) =>
    get(client.POST('/api/books/{book_id}/measured', { params: { path: { book_id: book } }, body: { marks } })).catch((trouble: unknown) =>
      trouble instanceof Error ? trouble.message : '',
    ),
  );
}
