import { expect, test } from 'vitest';
import type { Quantity, Schemas } from '@/shared/api/client';
import { type Bringing, NEW, NONE, bringTrack, fitsIn, partsOf, suggest, unitFor } from './bringing';
import type { MarksView } from './useWork';

const quantity = (id: string, symbol: string, unit: string, kind: Quantity['kind'] = 'measured') =>
  ({ id, symbol, unit, kind, holds: 'numbers', name: id }) as Quantity;
const ROW = { frame: 0, t: '0.00', x: '0.10 ± 0.01', y: '0.20 ± 0.01', angle: '' };
const TRACK = { thing: 'a', rows: [ROW, { ...ROW, frame: 2, t: '0.08' }], notes: [] };
const FILM = { name: 'film', common: '0.2' } as Schemas['Instrument'];
const VIEW = { length: FILM, time: { ...FILM, name: 'clock' }, angle: null } as unknown as MarksView;
const INTO = { into_time: ['s'], into_length: ['m', 'cm', 'mm'], into_angle: ['deg'] };
const fits = fitsIn(INTO as unknown as MarksView);
const UNITS = { t: 's', x: 'm', y: 'm', angle: 'deg' };
const RUN = { id: 'r', name: 'Run', settings: [], headings: null } as unknown as Schemas['Run'];

const bringing = (of: Partial<Bringing> = {}): Bringing => ({
  view: VIEW,
  track: TRACK,
  targets: { t: NEW, x: NONE, y: NEW, angle: NONE },
  quantities: [],
  made: new Map(),
  units: UNITS,
  run: RUN,
  fills: true,
  name: 'bead',
  ...of,
});

test('what is there is offered, and goes to what is called so or measured in such a unit', () => {
  expect(partsOf(TRACK)).toEqual(['t', 'x', 'y']);
  const read = [quantity('time', 't', 's', 'changed'), quantity('fall', 'h', 'cm'), quantity('mass', 'm', 'kg')];
  expect(suggest(['t', 'x', 'y'], read, fits, false)).toEqual({ t: 'time', x: 'fall', y: NONE, angle: NONE });
  expect(suggest(['x'], [quantity('wide', 'd', 'mm', 'changed')], fits, true).x).toBe(NEW);
  expect(suggest(['t', 'x', 'y'], [quantity('up', 'y', 'm')], fits, true)).toEqual({ t: NEW, x: NEW, y: 'up', angle: NONE });
  expect(unitFor('x', suggest(['x'], read, fits, false), read, 'm')).toBe('cm');
  expect(unitFor('y', suggest(['x'], read, fits, false), read, 'm')).toBe('m');
});

test('a blank run is filled, with quantities that are new and what they are read from', () => {
  const { edit, run } = bringTrack(bringing({ quantities: [quantity('q', 'y', 'N')] }));
  expect(run).toBe('r');
  if (edit.type !== 'fill_run') throw new Error(edit.type);
  expect(edit.new?.map((n) => n.text)).toEqual(['time t / s', 'position along y y_1 / m']);
  expect(edit.new?.map((n) => n.instrument?.name)).toEqual(['clock', 'film']);
  const [t, y] = edit.new?.map((n) => n.quantity) ?? [];
  expect(edit.settings.map((s) => s.readings[t ?? '']?.[0]?.text)).toEqual(['0.00', '0.08']);
  expect(edit.settings[0]?.readings[y ?? '']?.[0]?.text).toBe('0.20 ± 0.01');
});

test('the next thing is a run of its own under the same headings', () => {
  const made = new Map();
  const first = bringTrack(bringing({ made }));
  const next = bringTrack(bringing({ made, fills: false, name: 'cone' }));
  if (first.edit.type !== 'fill_run' || next.edit.type !== 'add_run') throw new Error(next.edit.type);
  expect(next.edit.new).toBeNull();
  expect(next.edit.name).toBe('cone');
  expect(Object.keys(next.edit.settings?.[0]?.readings ?? {})).toEqual(first.edit.new?.map((n) => n.quantity));
  expect(next.run).not.toBe('r');
});
