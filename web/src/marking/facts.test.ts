import { describe, expect, it } from 'vitest';
import type { Schemas } from '@/shared/api/client';
import { factsOf, firstToOpen, nextWaiting, otherFacts, stateOf } from './facts';

const grid: Schemas['GridRowOut'][] = [
  { id: 'a', title: 'A', levels: ['no', 'yes'], facts: ['repeats', 'slips'] },
  { id: 'b', title: 'B', levels: ['no', 'yes'], facts: [] },
];
const facts: Schemas['FactOut'][] = [
  { kind: 'readings', text: '8 settings' },
  { kind: 'repeats', text: '3 times' },
  { kind: 'slips', text: 'none' },
];

function bench(book: number, ...verdicts: ('returned' | 'accepted' | null)[]): Schemas['QueuedBench'] {
  const hand_ins = verdicts.map((verdict, i) => ({
    id: book * 10 + i,
    number: i + 1,
    at: '2026-11-29T10:00:00Z',
    by: 'Ann',
    late: false,
    marked: 0,
    answer: verdict && { verdict, words: '', by: 'T', at: '2026-11-29T11:00:00Z' },
  }));
  return { book, bench: `B${book}`, names: [], changed_since: false, hand_ins };
}

describe('facts beside rows', () => {
  it('stand where the plan says, and the others by themselves', () => {
    expect(grid.map((row) => factsOf(row, facts).map((f) => f.text))).toEqual([['3 times', 'none'], []]);
    expect(otherFacts(grid, facts).map((f) => f.kind)).toEqual(['readings']);
  });
});

describe('the queue', () => {
  const benches = [bench(1, 'returned', null), bench(2, null), bench(3, 'accepted'), bench(4)];
  it('goes by the last hand-in', () => {
    expect(benches.map(stateOf)).toEqual(['waits', 'waits', 'accepted', 'none']);
    expect(stateOf(bench(5, null, 'returned'))).toBe('returned');
  });
  it('opens the first that waits, else any', () => {
    expect(firstToOpen(benches)).toBe(11);
    expect(firstToOpen([bench(3, 'accepted'), bench(4)])).toBe(30);
    expect(firstToOpen([bench(4)])).toBeNull();
  });
  it('goes on to another bench', () => {
    expect(nextWaiting(benches, 11)).toBe(20);
    expect(nextWaiting(benches, 10)).toBe(20);
    expect(nextWaiting([bench(2, null)], 20)).toBeNull();
  });
});
