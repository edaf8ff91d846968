// What a page knows of an open lab book at one moment.
import type { BookState, Edit, Schemas } from '@/shared/api/client';
import type { OutboxView } from '@/shared/queue/ports';
import { type QueueRow, staysInSight } from '@/shared/queue/rows';
import type { AtHand } from './atHand';

/** An edit that is laid over the lab book as it is known: the server has not kept it yet, or what follows from it is not here. */
export type Waiting = Pick<QueueRow, 'id' | 'edit'>;

export interface Landed extends Waiting {
  /** The revision that the server has kept it as. */
  revision: number;
}

export interface Clash {
  id: string;
  edit: Extract<Edit, { type: 'set_reading' }>;
  theirs: string;
}

export interface Snapshot extends AtHand {
  state: BookState;
  /** The run that the lab book is seen from; its readings, graphs and findings are shown. */
  run: string;
  waiting: readonly Waiting[];
  /** How many of them are still to be sent; the others were refused, and stay in sight. */
  unsent: number;
  /** What the server would not keep, until somebody decides. */
  refused: readonly QueueRow[];
  /** The first reading of them that somebody else has written in the place of. */
  clash: Clash | null;
  held: OutboxView['held'];
  /** What is typed is only in this page: the device has no room, or gives none. */
  onlyHere: boolean;
  reachable: boolean;
  message: string;
  /** With the message: edits that may be wanted instead. */
  offers: readonly Schemas['OfferOut'][];
  /** Bumped when somebody asks to go to a cell. */
  goTo: { cell: string; turn: number } | null;
  /** What the last destructive act was, for the bar that offers to take it back. */
  undoable: { words: string; turn: number } | null;
}

type Shown = Pick<Snapshot, 'waiting' | 'unsent' | 'refused' | 'clash' | 'held' | 'onlyHere'>;

/** What the outbox shows of the edits that are not part of the lab book yet; those that have landed with it. */
export function shown(view: OutboxView, landed: readonly Landed[]): Shown {
  const refused = view.rows.filter((r) => r.state === 'refused');
  return {
    waiting: [...landed, ...view.rows.filter(staysInSight)],
    unsent: view.rows.filter((r) => r.state === 'waiting').reduce((n, { edit }) => n + (edit.type === 'batch' ? edit.edits.length : 1), 0),
    refused,
    clash: refused.map(clashOf).find((c) => c !== null) ?? null,
    held: view.held,
    onlyHere: view.onlyHere,
  };
}

export function clashOf(row: QueueRow): Clash | null {
  return row.theirs !== null && row.edit.type === 'set_reading' ? { id: row.id, edit: row.edit, theirs: row.theirs } : null;
}
