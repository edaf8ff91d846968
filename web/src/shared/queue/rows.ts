// What is typed waits on the device until the server has kept it: the rows, and where they go from one state to the next.
import type { Edit } from '@/shared/api/client';

/** The form in which rows are kept; one that a later Hobrel no longer understands is refused with a sentence, and parked. */
export const ROW_VERSION = 1;

export interface QueueRow {
  /** Counts up over all books and people of this device: the order in which edits were made. */
  n: number;
  person: number;
  book: number;
  id: string;
  version: number;
  edit: Edit;
  state: 'waiting' | 'refused';
  /** Of a refused one: why, in the server's words, its code, and what stands there instead where somebody else has written. */
  words: string;
  code: string;
  theirs: string | null;
}

/** What has come of sending a row. `answer` is whatever the server says of a kept one. */
export type Outcome<A> =
  | { kind: 'kept'; answer: A }
  | { kind: 'refused'; code: string; words: string; theirs: string | null }
  | { kind: 'later'; why: 'unreachable' | 'busy' | 'signed_out'; words: string; after: number | null };

/** The one place that an edit writes a text in, if it is of that kind. */
export function placeOf(edit: Edit): string | null {
  if (edit.type === 'set_reading') return `${edit.run}:${edit.setting}:${edit.quantity}:${edit.repeat}`;
  if (edit.type === 'write_text') return edit.section;
  return null;
}

/** Whether what was typed stays where it was typed although it was refused: a text that would else be gone from sight. */
export function staysInSight(row: QueueRow): boolean {
  return row.state === 'waiting' || placeOf(row.edit) !== null;
}

/** The same edit in the place of what stands there now. */
export function replacing(edit: Edit, was: string | null): Edit {
  return was !== null && (edit.type === 'set_reading' || edit.type === 'write_text') ? { ...edit, was } : edit;
}
