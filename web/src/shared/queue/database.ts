// The rows on the device. Every write is finished before it is reported; what cannot be written throws.
import { type DBSchema, type IDBPDatabase, openDB } from 'idb';
import type { QueueRow } from './rows';

interface Shelves extends DBSchema {
  edits: { key: number; value: QueueRow; indexes: { ofBook: [number, number] } };
  leases: { key: string; value: { name: string; holder: string; until: number } };
}

export type Database = IDBPDatabase<Shelves>;

let opened: Promise<Database> | null = null;

export function openDatabase(): Promise<Database> {
  opened ??= openDB<Shelves>('hobrel', 1, {
    upgrade(database) {
      database.createObjectStore('edits', { keyPath: 'n', autoIncrement: true }).createIndex('ofBook', ['person', 'book']);
      database.createObjectStore('leases', { keyPath: 'name' });
    },
    terminated() {
      opened = null;
    },
  }).catch((trouble: unknown) => {
    opened = null;
    throw trouble;
  });
  return opened;
}

export async function rowsOfBook(person: number, book: number): Promise<QueueRow[]> {
  return (await openDatabase()).getAllFromIndex('edits', 'ofBook', [person, book]);
}

/** All rows of a person, whatever book they are for. */
export async function rowsOfPerson(person: number): Promise<QueueRow[]> {
  return (await openDatabase()).getAllFromIndex('edits', 'ofBook', IDBKeyRange.bound([person, 0], [person, Infinity]));
}

/** Write a new row, whose number is given by the device. */
export async function addRow(row: QueueRow): Promise<number> {
  const { edit, person, book, id, version, state, words, code, theirs } = row;
  const turn = (await openDatabase()).transaction('edits', 'readwrite');
  const n = turn.store.add({ edit, person, book, id, version, state, words, code, theirs } as QueueRow);
  // at once: a page that is left now must not leave it unfinished
  turn.commit();
  await turn.done;
  return n;
}

export async function putRow(row: QueueRow): Promise<void> {
  await (await openDatabase()).put('edits', row);
}

export async function deleteRow(n: number): Promise<void> {
  await (await openDatabase()).delete('edits', n);
}

/** Open it anew next time; for tests, which begin with an empty device. */
export function forgetDatabase(): void {
  opened = null;
}
