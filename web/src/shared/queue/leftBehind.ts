// What the database of the device had not confirmed when a page was left: it is written where that takes no time, and taken in by the next.
import type { QueueRow } from './rows';

const keyOf = (person: number, book: number) => `hobrel:left:${person}:${book}`;

export function writeLeftBehind(person: number, book: number, rows: readonly QueueRow[]): void {
  if (rows.length) localStorage.setItem(keyOf(person, book), JSON.stringify(rows));
}

export function takeLeftBehind(person: number, book: number): QueueRow[] {
  const left = localStorage.getItem(keyOf(person, book));
  if (left === null) return [];
  localStorage.removeItem(keyOf(person, book));
  return JSON.parse(left) as QueueRow[];
}
