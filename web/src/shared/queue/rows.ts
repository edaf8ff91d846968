// What is typed waits on the device until the server has kept it: the rows, and where they go from one state to the next.
import type { Edit } from '@/shared/api/client';
import { findDifferences, makeDifferences } from './differences';

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

/** Whether an edit says anew, whole, what an earlier one was about: one that was refused is then needless. */
export function replaces(edit: Edit, earlier: Edit): boolean {
  if (edit.type !== earlier.type || placeOf(edit) === null || placeOf(edit) !== placeOf(earlier)) return false;
  return !('becomes' in edit) || Object.keys((earlier as typeof edit).becomes).every((field) => field in edit.becomes);
}

function placeOf(edit: Edit): string | null {
  switch (edit.type) {
    case 'set_reading':
      return `${edit.run}:${edit.setting}:${edit.quantity}:${edit.repeat}`;
    case 'write_text':
      return edit.section;
    case 'place_graph':
      return edit.graph;
    case 'place_fit':
      return edit.fit;
    case 'change_finding':
    case 'write_rounding':
    case 'write_needed':
      return edit.finding;
    case 'define_formula':
    case 'write_heading':
    case 'choose_digits':
    case 'change_quantity':
      return edit.quantity;
    case 'rename_run':
      return edit.run;
    case 'draw_sketch':
      return '';
    default:
      return null;
  }
}

/** Whether somebody is asked, where it was typed, which of two texts it shall be. */
export function isAsked(row: QueueRow): boolean {
  return row.state === 'refused' && row.theirs !== null && (row.edit.type === 'set_reading' || row.edit.type === 'write_text');
}

/** Whether what was typed stays where it was typed although it was refused: a text that would else be gone from sight. */
export function staysInSight(row: QueueRow): boolean {
  return row.state === 'waiting' || row.edit.type === 'set_reading' || row.edit.type === 'write_text' || row.edit.type === 'write_heading';
}

/** The same edit in the place of what stands there now: a text, or the fields that the edit is about, as JSON. */
export function replacing(edit: Edit, was: string | null): Edit {
  if (was === null) return edit;
  if ('becomes' in edit) {
    const now = JSON.parse(was) as unknown;
    // a field of a plan holds many texts, of which it changes no more than before; any other is one piece
    const becomes = edit.type === 'write_plan' ? makeDifferences(now, findDifferences(edit.was, edit.becomes)) : edit.becomes;
    return { ...edit, was: now, becomes } as Edit;
  }
  return 'was' in edit && typeof edit.was === 'string' ? ({ ...edit, was } as Edit) : edit;
}
