import { describe, expect, it } from 'vitest';
import type { BookState, Schemas } from '@/shared/api/client';
import { nameOfPlace, placesAt, readingAt, standsNow, stateOf } from './remarkPlaces';

const state = {
  document: {
    convention: { decimal_mark: 'point' },
    quantities: [
      { id: 'L', kind: 'changed', name: 'overhang', symbol: 'L', unit: 'm', holds: 'numbers' },
      { id: 't', kind: 'measured', name: 'time', symbol: 't', unit: 's', holds: 'numbers' },
      { id: 'T', kind: 'derived', name: 'period', symbol: 'T', unit: 's', holds: 'numbers' },
    ],
    runs: [{ id: 'r', name: 'Run', headings: null, settings: [{ id: 's', readings: { L: [{ text: '0.40' }], t: [{ text: '5.1' }, null] } }] }],
    graphs: [{ id: 'g', x: 'L', y: 'T' }],
    fits: [{ id: 'f', graph: 'g', y: '' }],
    findings: [{ id: 'E', name: 'modulus' }],
    plan: { sections: [{ id: 'method', title: 'Method' }] },
    report: { sections: [] },
  },
} as unknown as Pick<BookState, 'document'>;
const symbol = (id: string) => id;
const reading = { kind: 'reading', item: 's', run: 'r', quantity: 't', repeat: 0 } as const;

describe('what a remark is about', () => {
  it('is the reading of a cell', () => {
    expect(readingAt('s:t:0', 'r')).toEqual(reading);
    for (const none of ['', 's', 's:t', 's:t:x', 'graph', 's:t:0:1']) expect(readingAt(none, 'r')).toBeNull();
  });
  it('is called by setting, axes or name, and nothing where it is gone', () => {
    const of = (kind: Schemas['RemarkPlace']['kind'], item: string) => nameOfPlace({ ...reading, kind, item }, state, symbol);
    expect(of('reading', 's')).toBe('t at L = 0.40 m, repeat 1');
    expect(of('setting', 's')).toBe('L = 0.40 m');
    expect([of('graph', 'g'), of('fit', 'f'), of('finding', 'E'), of('section', 'method'), of('quantity', 'T')]).toEqual([
      'T against L',
      'the fit of T against L',
      'modulus',
      'Method',
      'period',
    ]);
    expect([of('reading', 'x'), of('fit', 'x'), of('section', 'x')]).toEqual(['', '', '']);
  });
  it('is offered at the station where it is', () => {
    const words = (stage: Parameters<typeof placesAt>[0]) => placesAt(stage, state, reading, symbol).map((p) => p.words);
    expect(words('read')).toEqual(['t at L = 0.40 m, repeat 1']);
    expect(words('average')).toEqual(['period']);
    expect(words('fit')).toEqual(['the fit of T against L']);
    expect(words('report')).toEqual(['Method']);
    expect(words('ask')).toEqual([]);
  });
  it('has changed when another text stands there', () => {
    const remark = (was: string, place = reading) => standsNow({ place, stands: '', was }, state);
    expect(remark('5.1')).toBe('');
    expect(remark('5.2')).toBe('changed');
    expect(standsNow({ place: { ...reading, repeat: 1 }, stands: '', was: '' }, state)).toBe('');
    expect(standsNow({ place: { ...reading, item: 'x' }, stands: '', was: '' }, state)).toBe('gone');
    expect(standsNow({ place: { ...reading, kind: 'fit' }, stands: 'changed', was: '' }, state)).toBe('changed');
  });
});

describe('how far a remark is', () => {
  const reply = (by_teacher: boolean) => ({ author: '', by_teacher, text: '', at: '' });
  it.each([
    [false, false, [], 'open'],
    [false, true, [], 'answered'],
    [false, false, [reply(false)], 'answered'],
    [false, false, [reply(false), reply(true)], 'open'],
    [true, true, [reply(false)], 'settled'],
  ] as const)('settled %s, done %s', (settled, done, replies, found) => expect(stateOf({ settled, done, replies: [...replies] })).toBe(found));
});
