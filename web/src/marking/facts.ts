// What can be seen of a hand-in, and beside which row of the grid it stands.
import type { Schemas } from '@/shared/api/client';

type Fact = Schemas['FactOut'];
type Row = Schemas['GridRowOut'];

/** The facts of a row, in the order in which they come; the plan says of which kinds. */
export function factsOf(row: Row, facts: readonly Fact[]): Fact[] {
  return facts.filter((fact) => row.facts.includes(fact.kind));
}

/** Those that stand beside no row. */
export function otherFacts(grid: readonly Row[], facts: readonly Fact[]): Fact[] {
  const shown = new Set(grid.flatMap((row) => row.facts));
  return facts.filter((fact) => !shown.has(fact.kind));
}

/** What a lab book's hand-ins have come to. */
export function stateOf(bench: Schemas['QueuedBench']): 'waits' | 'returned' | 'accepted' | 'none' {
  const last = bench.hand_ins.at(-1);
  if (!last) return 'none';
  return last.answer?.verdict ?? 'waits';
}

/** The hand-in that is opened where none is named: the first that waits, or else the first there is. */
export function firstToOpen(benches: readonly Schemas['QueuedBench'][]): number | null {
  const bench = benches.find((b) => stateOf(b) === 'waits') ?? benches.find((b) => b.hand_ins.length > 0);
  return bench?.hand_ins.at(-1)?.id ?? null;
}

/** The next bench in the queue that waits, after the one of this hand-in. */
export function nextWaiting(benches: readonly Schemas['QueuedBench'][], handIn: number): number | null {
  const waiting = benches.filter((b) => stateOf(b) === 'waits' && !b.hand_ins.some((h) => h.id === handIn));
  return waiting[0]?.hand_ins.at(-1)?.id ?? null;
}
