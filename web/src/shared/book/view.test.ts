// Laying over what is here what the server says has changed.
import { describe, expect, it } from 'vitest';
import { layOver } from './view';

const before = { runs: [{ cells: [1, 2, 3], name: 'a' }, { cells: [4] }], words: 'old', tokens: { E: '1' } };

describe('laying changes over', () => {
  it('puts each at its place, and leaves what was there before as it was', () => {
    const after = layOver(before, [
      { at: ['runs', 0, 'cells', 1], becomes: 9 },
      { at: ['runs', 0, 'cells', 2], becomes: null },
      { at: ['words'], becomes: 'new' },
      { at: ['tokens', 'E'], becomes: '2' },
    ]);
    expect(after).toEqual({ runs: [{ cells: [1, 9, null], name: 'a' }, { cells: [4] }], words: 'new', tokens: { E: '2' } });
    expect(before.runs[0]?.cells).toEqual([1, 2, 3]);
  });

  it('keeps the objects of what has not changed', () => {
    const after = layOver(before, [{ at: ['runs', 0, 'cells', 1], becomes: 9 }]);
    expect([after.runs[1] === before.runs[1], after.tokens === before.tokens, after.runs[0] === before.runs[0]]).toEqual([true, true, false]);
  });

  it('takes a change of everything, and none', () => {
    expect(layOver<unknown>(before, [{ at: [], becomes: { other: 1 } }])).toEqual({ other: 1 });
    expect(layOver(before, [])).toBe(before);
  });

  it('says so where a place is not there, rather than inventing one', () => {
    expect(() => layOver(before, [{ at: ['runs', 7, 'name'], becomes: 'x' }])).toThrow('not there');
  });
});
