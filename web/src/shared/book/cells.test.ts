import { describe, expect, it } from 'vitest';
import type { Quantity } from '@/shared/api/client';
import type { Row } from '@/shared/book/rows';
import { decimalsIn, decimalsOf, lackOf, nextBlank, slotsOf } from './cells';

const quantity = (id: string, repeats: number) => ({ id, repeats }) as Quantity;
const row = (id: string, readings: Record<string, (string | null)[]>, setAside: string | null = null): Row => ({
  id,
  setAside,
  readings: Object.fromEntries(Object.entries(readings).map(([q, texts]) => [q, texts.map((text) => (text === null ? null : { text, set_aside: null }))])),
});

describe('where writing goes on', () => {
  const slots = slotsOf([quantity('L', 1), quantity('t', 2)]);
  const rows = [row('a', { L: ['1'], t: ['2', null] }), row('b', { L: ['2'] }), row('c', { L: [null] }, 'the clamp slipped')];
  it('is the first blank cell of the row where Enter moves across, of the column where it moves down', () => {
    expect(nextBlank(rows, slots, 'across')).toEqual([0, 2]);
    expect(nextBlank(rows, slots, 'down')).toEqual([1, 1]);
  });
  it('is below the last setting where none is blank, and in the first cell of an empty table', () => {
    expect(nextBlank([row('a', { L: ['1'], t: ['2', '3'] })], slots, 'down')).toEqual([1, 0]);
    expect(nextBlank([], slots, 'across')).toEqual([0, 0]);
  });
});

describe('points in line', () => {
  it('counts the decimals of plain numbers only', () => {
    expect(['0.300', '12', '1,5', '-2.', '−0.25', '5 cm', '', '1e3', '2.50 ± 0.01'].map(decimalsOf)).toEqual([3, 0, 1, 0, 2, null, null, null, null]);
  });
  it('sets a reading off by the places it lacks, its point among them', () => {
    const most = decimalsIn([quantity('L', 1), quantity('t', 1)], [row('a', { L: ['0.25'], t: ['3'] }), row('b', { L: ['1'], t: ['4'] })]);
    expect([most.get('L'), most.get('t')]).toEqual([2, 0]);
    expect([lackOf('0.25', 2), lackOf('0.2', 2), lackOf('1', 2), lackOf('4', 0), lackOf('5 cm', 2)]).toEqual([0, 1, 3, 0, 0]);
  });
});
