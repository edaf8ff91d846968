// The outbox of every lab book that this person has written in on this device, whether it is open or not.
import { rowsOfPerson } from './database';
import { Outbox } from './outbox';
import { type Kept, postEdits } from './posting';

export type BookOutbox = Outbox<Kept>;

const outboxes = new Map<string, BookOutbox>();

export function outboxOf(person: number, book: number): BookOutbox {
  const key = `${person}:${book}`;
  const known = outboxes.get(key);
  if (known) return known;
  const outbox: BookOutbox = new Outbox(person, book, quietPorts());
  outboxes.set(key, outbox);
  return outbox;
}

/** What an outbox does while its lab book is not open. */
export function quietPorts(): BookOutbox['ports'] {
  return { post: postEdits, onKept: () => undefined, onRefused: () => undefined };
}

/** Send what this person left waiting in any lab book. */
export async function sendAllOf(person: number): Promise<void> {
  const rows = await rowsOfPerson(person).catch(() => []);
  for (const book of new Set(rows.map((r) => r.book))) void outboxOf(person, book).send();
}

/** How many edits of this person wait on this device. */
export async function countWaiting(person: number): Promise<number> {
  return (await rowsOfPerson(person).catch(() => [])).length;
}

/** Nobody is signed in any more: nothing is sent until somebody is. */
export function closeOutboxes(): void {
  for (const outbox of outboxes.values()) outbox.close();
  outboxes.clear();
}
