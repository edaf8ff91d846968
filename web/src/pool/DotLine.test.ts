import { describe, expect, it } from 'vitest';
import { pile } from './DotLine';

describe('dots', () => {
  it('pile up where they lie close together', () => {
    expect(pile([10, 11, 12, 40])).toEqual([0, 1, 2, 0]);
    expect(pile([0, 9, 18])).toEqual([0, 0, 0]);
    expect(pile([])).toEqual([]);
  });
});
