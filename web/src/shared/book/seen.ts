// How far a lab book is, as people see it: what is complete without anybody having opened it is ready at most (decision 35).
import type { StageMark, StageName } from '@/shared/api/client';

export type SeenMark = Omit<StageMark, 'state'> & { state: StageMark['state'] | 'ready' };

/** Stations whose content may stand there before anybody has come; those of the second kind would give their answer away. */
const PREPARED: readonly StageName[] = ['average', 'look', 'straighten', 'fit', 'find'];
const ANSWERS: readonly StageName[] = ['straighten', 'fit', 'find'];

/** The marks of the stations, by which of them somebody of the bench has opened; null where all count as opened. */
export function seenMarks(stages: readonly StageMark[], opened: readonly StageName[] | null): SeenMark[] {
  return stages.map((mark) => {
    if (!opened || opened.includes(mark.stage) || mark.state === 'not_opened' || !PREPARED.includes(mark.stage)) return mark;
    return { ...mark, state: 'ready', ...(ANSWERS.includes(mark.stage) ? { words: [{ code: 'ready', text: 'ready', fields: {} }] } : {}) };
  });
}
