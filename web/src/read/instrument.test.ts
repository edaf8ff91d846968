import { describe, expect, it } from 'vitest';
import { type Instrument, type WrittenInstrument, lacking, readInstrument, writtenFrom } from './instrument';

const written = (part: Partial<WrittenInstrument>): WrittenInstrument => ({ ...writtenFrom(null), ...part });

describe('what a quantity is read from', () => {
  it('is nothing where nothing was typed, and is asked for where its numbers were', () => {
    expect(lacking(written({}))).toBeNull();
    expect(readInstrument(written({}), null)).toBeNull();
    expect(lacking(written({ division: '0.5' }))?.field).toBe('name');
    expect(lacking(written({ kind: 'display' }))?.field).toBe('name');
    for (const kind of ['counted', 'counted_at_random'] as const) {
      expect(lacking(written({ kind }))).toBeNull();
      expect(readInstrument(written({ kind }), null)).toMatchObject({ kind, name: 'counting' });
    }
  });

  it('has the number that its readings get their ± from, and no other is made up for it', () => {
    for (const kind of ['scale', 'display', 'rectangular', 'steady', 'maker'] as const) expect(lacking(written({ name: 'x', kind }))).not.toBeNull();
    for (const kind of ['counted', 'counted_at_random'] as const) expect(lacking(written({ name: 'x', kind }))).toBeNull();
    expect(lacking(written({ name: 'x', division: 'half' }))?.field).toBe('division');
    expect(lacking(written({ name: 'x', division: '0.0' }))?.words).toBe('“smallest division” is more than 0. Readings get their ± from it.');
    expect(lacking(written({ name: 'x', kind: 'maker', division: '0.01' }))?.field).toBe('percent');
    expect(lacking(written({ name: 'x', kind: 'maker', division: '0.01', digits: '2' }))).toBeNull();
    expect(lacking(written({ name: 'x', kind: 'steady', division: '0.01' }))?.field).toBe('scatter');
  });

  it('keeps the numbers of its own kind alone, with a point', () => {
    const all = written({ name: ' x ', division: '0,01', percent: '0,5', digits: '2', scatter: '3', common: '4', between: true, pair: true });
    expect(readInstrument({ ...all, kind: 'maker' }, null)).toEqual({
      name: 'x',
      kind: 'maker',
      division: '0.01',
      readings: 1,
      between_marks: false,
      percent: '0.5',
      digits: '2',
      scatter: '0',
      common: '0',
    });
    expect(readInstrument(all, null)).toMatchObject({ kind: 'scale', readings: 2, between_marks: true, percent: '0', scatter: '0', common: '4' });
  });

  it('takes a unit, a sign and a per cent that were typed with a number', () => {
    expect(readInstrument(written({ name: 'ruler', division: ' 1 mm' }), null)).toMatchObject({ division: '1 mm' });
    expect(lacking(written({ name: 'ruler', division: '1 mm' }))).toBeNull();
    for (const division of ['1 2', 'mm', '1..2', '1/2', '0.5-1']) expect(lacking(written({ name: 'ruler', division }))?.field, division).toBe('division');
    const maker = written({ name: 'meter', kind: 'maker', division: '0,01 V', percent: '± 0,5 %', digits: '2' });
    expect(lacking(maker)).toBeNull();
    expect(readInstrument(maker, null)).toMatchObject({ division: '0.01 V', percent: '0.5', digits: '2' });
    expect(lacking({ ...maker, percent: '0.5 V' })?.field).toBe('percent');
  });

  it('comes out as it went in, also what the form does not show', () => {
    const plain = { name: 'x', division: '0.1', readings: 1, between_marks: false, percent: '0', digits: '0', scatter: '0', common: '0' };
    const there: Instrument[] = [
      { ...plain, kind: 'rectangular', common: '0.2' },
      { ...plain, kind: 'maker', percent: '0.5', digits: '2', common: '0.3', readings: 2 },
      { ...plain, kind: 'scale', readings: 3, between_marks: true },
      { ...plain, kind: 'counted', division: '1' },
    ];
    for (const one of there) expect(readInstrument(writtenFrom(one), one)).toEqual(one);
    // another kind begins anew
    expect(readInstrument({ ...writtenFrom(there[2]), kind: 'display' }, there[2])).toMatchObject({ kind: 'display', readings: 1, between_marks: false });
  });
});
