import { expect, test } from 'vitest';
import { isBegun, readCount, readNumber } from './readNumber';

test('a number is read with either decimal sign and any minus', () => {
  expect(['2.5', ' 2,5 ', '−3', '–0,5', '-.5', '1e-3', '1E−3', '7.'].map(readNumber)).toEqual([2.5, 2.5, -3, -0.5, -0.5, 1e-3, 1e-3, 7]);
  expect(readNumber('  ')).toBeNull();
});

test('what is no number in a school is none', () => {
  for (const text of ['0x10', 'Infinity', '1.2.3', '1,234.5', '5 cm', '−', 'e3', '1_000']) expect(readNumber(text), text).toBeNaN();
});

test('what is only begun is not called wrong', () => {
  for (const text of ['-', '−', '1e', '2.5E−', '.', '']) expect(isBegun(text), text).toBe(true);
  for (const text of ['0.5 m', 'far', '1/2', '1..2', '1,234.5']) expect(isBegun(text), text).toBe(false);
});

test('how many is a whole number up to a limit, and nothing is none', () => {
  expect(['', ' 12 ', '200', '0'].map((text) => readCount(text, 200))).toEqual([0, 12, 200, 0]);
  expect(['201', '8-10', '2.5', '-1', '12 settings', '1e2'].map((text) => readCount(text, 200))).toEqual(Array(6).fill(null));
});
