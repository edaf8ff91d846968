import { expect, test } from 'vitest';
import type { Figure } from '@/shared/api/client';
import { pathsOf, placeOn, radiansIn, saySpeed, secondsIn, spanOf, speedFor } from './motion';

const point = (x: number, y: number, set_aside = false) => ({ x, y, set_aside });
const FIGURE = {
  series: [{ name: 'Run', look: 2, points: [point(2, 4), point(0, 0), point(1, 9, true), point(1, 2)] }],
  lines: [
    { kind: 'fit', x: [0, 4], y: [0, 8] },
    { kind: 'beyond', x: [4, 9], y: [8, 18] },
  ],
} as unknown as Figure;

test('what moves are the points in the order of their times, without those set aside, and what is fitted', () => {
  const [seen, model, ...others] = pathsOf(FIGURE);
  expect(seen).toEqual({ name: 'Run', look: 2, x: [0, 1, 2], y: [0, 2, 4] });
  expect(model?.look).toBeNull();
  expect(others).toEqual([]);
  expect(spanOf(pathsOf(FIGURE))).toEqual([0, 4]);
});

test('between points it goes straight on, and is nowhere before and after them', () => {
  const path = { x: [0, 1, 3], y: [0, 10, 30] };
  expect([0, 0.5, 1, 2, 3].map((at) => placeOn(path, at))).toEqual([0, 5, 10, 20, 30]);
  expect(placeOn(path, -0.1)).toBeNull();
  expect(placeOn(path, 3.1)).toBeNull();
  expect(placeOn({ x: [1, 1], y: [2, 5] }, 1)).toBe(5);
  expect(placeOn({ x: [], y: [] }, 1)).toBeNull();
});

test('it is played as it was where that can be seen, else slower or quicker by a round number', () => {
  expect(speedFor(3)).toBe(1);
  expect(speedFor(12)).toBe(1);
  expect(speedFor(0.5)).toBe(0.25);
  expect(speedFor(0.04)).toBe(0.01);
  expect(speedFor(600)).toBe(100);
  expect(speedFor(1e9)).toBe(100_000);
  expect([1, 0.25, 100].map(saySpeed)).toEqual(['as it was', '4 times as slow', '100 times as quick']);
});

test('units of time and of angle', () => {
  expect([secondsIn('min'), secondsIn('m'), radiansIn('rad'), radiansIn('m')]).toEqual([60, null, 1, null]);
  expect(radiansIn('°')).toBeCloseTo(Math.PI / 180);
});
