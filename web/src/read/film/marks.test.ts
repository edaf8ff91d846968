import { expect, test } from 'vitest';
import { inOrder } from './frames';
import { fromTheFirst, isFrame, middleOf } from './filmFile';
import { onFilm } from './useModel';
import { askedOf, beginWork, isAbout, isBlank, markAt, snapTo, withCorner, withEnd, withMark, withoutMark } from './marks';

const FILM = { name: 'drop.mp4', size: 9, count: 3 };
const UNITS = { length: '', time: 's', angle: 'deg' };
const at = (x: number, y = 0) => ({ x, y });

test('a mark takes the place of the one of its thing, frame and turn, and of no other', () => {
  const thing = 'a';
  let work = withMark(beginWork(FILM), { thing, frame: 1, turn: 0, place: at(1) });
  work = withMark(work, { thing, frame: 1, turn: 1, place: at(2) });
  work = withMark(work, { thing: 'b', frame: 1, turn: 0, place: at(3) });
  work = withMark(work, { thing, frame: 1, turn: 0, place: at(4) });
  expect(work.marks).toHaveLength(3);
  expect(markAt(work, thing, 1, 0)?.place).toEqual(at(4));
  expect(markAt(withoutMark(work, thing, 1, 0), thing, 1, 1)?.place).toEqual(at(2));
  expect(markAt(withoutMark(work, thing, 1, 0), thing, 1, 0)).toBeUndefined();
});

test('the nearer end of a known length is put anew', () => {
  const both = withEnd(withEnd(beginWork(FILM), at(0)), at(100));
  expect(both.ends).toEqual([at(0), at(100)]);
  expect(withEnd(both, at(90)).ends).toEqual([at(0), at(90)]);
  expect(withEnd(both, at(10)).ends).toEqual([at(10), at(100)]);
});

test('what is drawn is whole by itself, but for an area', () => {
  let work = beginWork(FILM);
  for (const x of [1, 2, 3]) work = withCorner(work, 'length', at(x));
  expect(work.drawn.map((d) => d.places.length)).toEqual([2, 1]);
  for (const x of [1, 2, 3, 4]) work = withCorner(work, 'angle', at(x));
  expect(work.drawn.map((d) => d.places.length)).toEqual([2, 1, 3, 1]);
  for (const x of [1, 2, 3, 4]) work = withCorner(work, 'area', at(x));
  expect(work.drawn.at(-1)?.places).toHaveLength(4);
});

test('from lengths along turned axes back to pixels', () => {
  const work = { ...beginWork(FILM), origin: at(80, 410), along: at(110, 370) };
  expect(onFilm(work, 0.01, 0, 0)).toEqual(at(80, 410));
  // x goes 3 to the right and 4 up, y a quarter turn from it against the clock
  expect(onFilm(work, 0.01, 0.5, 0)).toEqual(at(110, 370));
  expect(onFilm(work, 0.01, 0, 0.5)).toEqual(at(40, 380));
  expect(onFilm({ ...work, down: true }, 0.01, 0, 0.5)).toEqual(at(120, 440));
  expect(onFilm({ ...work, along: null }, 0.01, 0.1, 0.2)).toEqual(at(90, 390));
});

test('places are kept to a tenth of a pixel, within the picture', () => {
  expect(snapTo(at(12.34, -5), 100, 50)).toEqual({ x: 12.3, y: 0 });
  expect(snapTo(at(1e6, 49.96), 100, 50)).toEqual({ x: 100, y: 50 });
});

test('only the times of the frames that count are sent', () => {
  const work = { ...withMark(beginWork(FILM), { thing: 'a', frame: 2, turn: 0, place: at(1) }), start: 1 };
  const asked = askedOf(work, [0, 0.04, 0.08], UNITS, ['m', 's', 'm']);
  expect([asked.source, asked.columns]).toEqual(['film drop', ['m', 's']]);
  expect([asked.frames, asked.times]).toEqual([
    [1, 2],
    [0.04, 0.08],
  ]);
  expect(askedOf(work, null, UNITS, []).frames).toEqual([]);
  expect(asked.known).toBeNull();
  expect(askedOf({ ...work, ends: [at(0), at(1)], length: ' 1.0 ' }, null, UNITS, []).known?.length).toBe('1.0');
});

test('another film is told from it', () => {
  const work = beginWork(FILM);
  expect(isBlank(work)).toBe(true);
  expect(isAbout(work, FILM)).toBe(true);
  expect(isAbout(work, { ...FILM, size: 10 })).toBe(false);
  expect(isAbout(work, { ...FILM, count: 4 })).toBe(false);
});

test('the middle of a frame, and whether it is what is presented', () => {
  const times = [0, 0.033, 0.067, 0.2];
  expect(middleOf(times, 1, 0.3)).toBeCloseTo(0.05);
  expect(middleOf(times, 3, 0.3)).toBeCloseTo(0.25);
  expect(middleOf(times, 3, 0.2)).toBeCloseTo(0.2665);
  expect(isFrame(times, 1, 0.0334)).toBe(true);
  expect(isFrame(times, 1, 0.067)).toBe(false);
  expect(isFrame(times, 0, 0.033)).toBe(false);
  expect(isFrame(times, 3, 0.2)).toBe(true);
});

test('pictures come in the order of their numbers', () => {
  const files = ['p10.png', 'p2.png', 'p1.png'].map((name) => new File([], name));
  expect(inOrder(files).map((f) => f.name)).toEqual(['p1.png', 'p2.png', 'p10.png']);
});

test('a film that begins within a frame begins with it, or with the next where frames cannot be taken out', () => {
  expect(fromTheFirst([0.1, 0, 0.05], true)).toEqual({ times: [0, 0.05, 0.1], begin: 0, trimmed: false });
  expect(fromTheFirst([0.07, 0.1], false)).toEqual({ times: [0.07, 0.1], begin: 0, trimmed: false });
  expect(fromTheFirst([0.25, -0.25, 0.75], true)).toEqual({ times: [0, 0.5, 1], begin: -0.25, trimmed: true });
  expect(fromTheFirst([0.25, -0.25, 0.75], false)).toEqual({ times: [0, 0.5], begin: 0.25, trimmed: true });
});
