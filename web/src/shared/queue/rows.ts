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

/** What an edit says anew, whole: a later one about the same makes one that was refused needless. Null where each stands for itself. */
export function placeOf(edit: Edit): string | null {
  switch (edit.type) {
    case 'set_reading':
      return `reading ${edit.run}:${edit.setting}:${edit.quantity}:${edit.repeat}`;
    case 'write_text':
      return `text ${edit.section}`;
    case 'place_graph':
      return `graph ${edit.graph} ${fieldsOf(edit)}`;
    case 'place_fit':
      return `fit ${edit.fit} ${fieldsOf(edit)}`;
    case 'change_finding':
      return `finding ${edit.finding} ${fieldsOf(edit)}`;
    case 'change_quantity':
      return `quantity ${edit.quantity} ${fieldsOf(edit)}`;
    case 'write_rounding':
      return `rounding ${edit.finding}`;
    case 'define_formula':
    case 'choose_digits':
      return `${edit.type} ${edit.quantity}`;
    case 'rename_run':
      return `name ${edit.run}`;
    case 'draw_sketch':
      return 'sketch';
    default:
      return null;
  }
}

/** Whether what was typed stays where it was typed although it was refused: a text that would else be gone from sight. */
export function staysInSight(row: QueueRow): boolean {
  return row.state === 'waiting' || row.edit.type === 'set_reading' || row.edit.type === 'write_text';
}

/** The same edit in the place of what stands there now: a text, or the fields that the edit is about, as JSON. */
export function replacing(edit: Edit, was: string | null): Edit {
  if (was === null) return edit;
  if (edit.type === 'set_reading' || edit.type === 'write_text' || edit.type === 'write_rounding') return { ...edit, was };
  return 'becomes' in edit ? ({ ...edit, was: JSON.parse(was) as unknown } as Edit) : edit;
}

function fieldsOf(edit: { becomes: object }): string {
  return Object.keys(edit.becomes).sort().join(' ');
}
