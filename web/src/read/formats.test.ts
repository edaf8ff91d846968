import { beforeEach, describe, expect, it, vi } from 'vitest';
import { type Format, recallFormat, rememberFormat } from './formats';

const book = [
  { id: 'q1', symbol: 't', repeats: 1 },
  { id: 'q2', symbol: 'U', repeats: 2 },
];
const format = (headings: string[], part: Partial<Format> = {}): Format => ({
  headings,
  columns: [{ symbol: 't', repeat: 0, is_u: false }, null, { symbol: 'U', repeat: 1, is_u: false }],
  logged: true,
  every: 3,
  ...part,
});

describe('formats of files', () => {
  beforeEach(() => {
    const kept = new Map<string, string>();
    vi.stubGlobal('localStorage', { getItem: (k: string) => kept.get(k) ?? null, setItem: (k: string, v: string) => kept.set(k, v) });
  });

  it('are recalled by all headings in their order', () => {
    rememberFormat(format(['time', 'no', 'ch 2']));
    expect(recallFormat(['time', 'no', 'ch 2'], book)).toEqual({
      columns: [{ quantity: 'q1', repeat: 0, is_u: false }, null, { quantity: 'q2', repeat: 1, is_u: false }],
      logged: true,
      every: 3,
    });
    expect(recallFormat(['time', 'ch 2', 'no'], book)).toBeNull();
    expect(recallFormat(['time', 'no'], book)).toBeNull();
  });

  it('are found again in another lab book by symbols, and not where one is lacking', () => {
    rememberFormat(format(['a', 'b', 'c']));
    const other = [
      { id: 'x', symbol: 'U', repeats: 2 },
      { id: 'y', symbol: 't', repeats: 1 },
    ];
    expect(recallFormat(['a', 'b', 'c'], other)?.columns.map((c) => c?.quantity)).toEqual(['y', undefined, 'x']);
    expect(recallFormat(['a', 'b', 'c'], book.slice(1))).toBeNull();
    expect(
      recallFormat(
        ['a', 'b', 'c'],
        [
          { id: 'q1', symbol: 't', repeats: 1 },
          { id: 'q2', symbol: 'U', repeats: 1 },
        ],
      ),
    ).toBeNull();
  });

  it('are what was done last, and no more than two dozen', () => {
    rememberFormat(format(['a', 'b', 'c']));
    rememberFormat(format(['a', 'b', 'c'], { every: 5 }));
    expect(recallFormat(['a', 'b', 'c'], book)?.every).toBe(5);
    for (let i = 0; i < 23; i += 1) rememberFormat(format([`h${i}`, 'b', 'c']));
    expect(recallFormat(['a', 'b', 'c'], book)?.every).toBe(5);
    rememberFormat(format(['one more', 'b', 'c']));
    expect(recallFormat(['a', 'b', 'c'], book)).toBeNull();
  });

  it('are none without headings, and broken memory is none', () => {
    rememberFormat(format(['', ' ', '']));
    expect(recallFormat(['', ' ', ''], book)).toBeNull();
    localStorage.setItem('hobrel:formats', '{"broken');
    expect(recallFormat(['a', 'b', 'c'], book)).toBeNull();
    localStorage.setItem('hobrel:formats', '7');
    expect(recallFormat(['a', 'b', 'c'], book)).toBeNull();
  });
});
