// What an outbox shows, and what it needs of whoever has the lab book open.
import type { Outcome, QueueRow } from './rows';

export interface OutboxView {
  rows: readonly QueueRow[];
  /** Why nothing is sent at present; empty where nothing stands in the way. */
  held: '' | 'unreachable' | 'busy' | 'signed_out';
  heldWords: string;
  /** Rows could not be written on the device: they are only in this page. */
  onlyHere: boolean;
}

export interface OutboxPorts<A> {
  /** An outcome for each row in their order; after one that has to wait there are none. */
  post: (rows: QueueRow[]) => Promise<Outcome<A>[]>;
  onKept: (row: QueueRow, answer: A) => void;
  /** Something was refused: what the server has may be other than what was thought. */
  onRefused: (row: QueueRow) => void;
}
