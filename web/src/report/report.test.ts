import { describe, expect, it } from 'vitest';
import { asTabs } from './copyTable';
import { moved } from './order';
import { choose, openName } from './valueNames';

const choices = [
  { name: 'E', shown: '12.5 ± 0.3 GPa', words: 'stiffness' },
  { name: 'E,relative', shown: '2.1 %', words: 'stiffness, its ± as a share' },
  { name: 'gradient', shown: '4.7 s²/m³', words: 'gradient of the line' },
  { name: 'see:graph-a', shown: 'Figure 1', words: 'Graph' },
];

describe('a name that is being written', () => {
  it('begins at a brace that is open before the caret', () => {
    expect(openName('We find {gr', 11)).toBe('gr');
    expect(openName('We find {', 9)).toBe('');
    expect(openName('We find {E} and', 15)).toBeNull();
    expect(openName('We find {E} and', 10)).toBe('E');
    expect(openName('a {\nb', 5)).toBeNull();
  });
  it('is none where mathematics is written', () => expect(openName('{= T', 4)).toBeNull());
  it('is found by how it begins, then by what it is', () => {
    expect(choose(choices, 'e').map((c) => c.name)).toEqual(['E', 'E,relative', 'gradient', 'see:graph-a']);
    expect(choose(choices, 'figure').map((c) => c.name)).toEqual(['see:graph-a']);
    expect(choose(choices, 'stiff').map((c) => c.name)).toEqual(['E', 'E,relative']);
    expect(choose(choices, 'nothing')).toEqual([]);
  });
  it('is found as formulas write it', () => {
    const symbols = ['μ', 't₁₀', 'T²', 'Δ₁'].map((name) => ({ name, shown: '1', words: 'that' }));
    expect(['mu', 't_1', 'T^2', 'Delta_1', 'μ', 't₁₀'].map((typed) => choose(symbols, typed).map((c) => c.name))).toEqual([
      ['μ'],
      ['t₁₀'],
      ['T²'],
      ['Δ₁'],
      ['μ'],
      ['t₁₀'],
    ]);
  });
});

describe('the order of parts', () => {
  it('changes by one place', () => {
    expect(moved(['a', 'b', 'c'], 'c', -1)).toEqual(['a', 'c', 'b']);
    expect(moved(['a', 'b', 'c'], 'a', 1)).toEqual(['b', 'a', 'c']);
  });
  it('stays at its ends, and for what is not in it', () => {
    expect(moved(['a', 'b'], 'a', -1)).toEqual(['a', 'b']);
    expect(moved(['a', 'b'], 'b', 1)).toEqual(['a', 'b']);
    expect(moved(['a', 'b'], 'x', 1)).toEqual(['a', 'b']);
  });
});

it('a table is text with tabs', () => {
  expect(
    asTabs([
      ['L / m', 'T / s'],
      ['0.3', '1.1'],
    ]),
  ).toBe('L / m\tT / s\n0.3\t1.1');
});
