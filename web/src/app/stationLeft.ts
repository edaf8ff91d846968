// Where somebody left a lab book: they come back to that station, and the first time to the question.
import type { BookState, StageName } from '@/shared/api/client';
import { order } from './stages';

const key = (person: number, book: number) => `hobrel:station:${person}:${book}`;

export function rememberStation(person: number, book: number, stage: StageName): void {
  try {
    localStorage.setItem(key(person, book), stage);
  } catch {
    // a device without room forgets where they were, and nothing else
  }
}

export function stationLeft(person: number, state: BookState): StageName {
  const left = localStorage.getItem(key(person, state.id));
  // who looks at another's work, or has begun one of their own, comes for the readings
  return order.find((stage) => stage === left) ?? (state.can_edit && state.opened ? 'ask' : 'read');
}
