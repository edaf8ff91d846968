// Who is in a class, and who sits where.
import type { Schemas } from '@/shared/api/client';

export type ClassPeople = Schemas['ClassPeople'];
export type SeatLine = Schemas['SeatLine'];

/** The names at each bench, in the order of the benches; last those at none. */
export function byBench(people: ClassPeople): { bench: string; seats: SeatLine[] }[] {
  const at = [...people.benches, ''].map((bench) => ({ bench, seats: people.seats.filter((s) => s.bench === bench) }));
  return at.filter((b) => b.bench !== '' || b.seats.length > 0);
}
