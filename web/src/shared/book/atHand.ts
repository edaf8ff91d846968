// What is at hand for a finding that is not written yet: numbers that were collected, and its draft. A reload of the tab does not lose it.
import type { Schemas } from '@/shared/api/client';
import { keepQuietly } from '@/shared/ui/keepQuietly';

export interface AtHand {
  /** Numbers that were picked on graphs and fits, for a finding to be made of. */
  collected: readonly Schemas['IngredientIn'][];
  /** A finding that was being written when its page was left. */
  draft: Schemas['FindingIn'] | null;
}

const keyOf = (person: number, book: number) => `hobrel:at-hand:${person}:${book}`;

export function readAtHand(person: number, book: number): AtHand {
  const kept = sessionStorage.getItem(keyOf(person, book));
  return kept ? (JSON.parse(kept) as AtHand) : { collected: [], draft: null };
}

export function writeAtHand(person: number, book: number, atHand: AtHand): void {
  const nothing = atHand.collected.length === 0 && atHand.draft === null;
  keepQuietly(sessionStorage, keyOf(person, book), nothing ? null : JSON.stringify(atHand));
}
