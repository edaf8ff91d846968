// Where somebody left a lab book: they come back to that station, the first time to the question; and what they have pegged beside it.
import type { BookState, StageName } from '@/shared/api/client';
import { keepQuietly } from '@/shared/ui/keepQuietly';
import { order } from './stages';

type What = 'station' | 'pegged';

const key = (what: What, person: number, book: number) => `hobrel:${what}:${person}:${book}`;

export function rememberStation(what: What, person: number, book: number, stage: StageName | null): void {
  keepQuietly(localStorage, key(what, person, book), stage);
}

export function stationKept(what: What, person: number, book: number): StageName | null {
  const kept = localStorage.getItem(key(what, person, book));
  return order.find((stage) => stage === kept) ?? null;
}

export function stationLeft(person: number, state: BookState): StageName {
  // who looks at another's work, or has begun one of their own, comes for the readings
  return stationKept('station', person, state.id) ?? (state.can_edit && state.opened ? 'ask' : 'read');
}
