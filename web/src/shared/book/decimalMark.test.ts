import { expect, test } from 'vitest';
import { readShort, withMark, writeShort } from './decimalMark';

test('a reading is shown with the mark of the class, and only its mark is another', () => {
  for (const [typed, shown] of [
    ['0.300', '0,300'],
    ['12.40 ± 0.05 cm', '12,40 ± 0,05 cm'],
    ['−1.5e-3', '−1,5e-3'],
    ['3:25.4', '3:25,4'],
    ['0,300', '0,300'],
    ['1,234.5', '1,234.5'],
    ['12.5.2027', '12.5.2027'],
    ['blank', 'blank'],
    ['456', '456'],
  ] as const) {
    expect(withMark(typed, 'comma')).toBe(shown);
    expect(withMark(typed, 'point')).toBe(typed);
  }
});

test('a number that nobody has changed is not rounded to what was shown of it', () => {
  expect(readShort('0,1235', 0.123456, 4, 'comma')).toBe(0.123456);
  expect(readShort('0.1235', 0.123456, 4, 'comma')).toBe(0.1235);
  expect(readShort(' 0.1235 ', 0.123456, 4, 'point')).toBe(0.123456);
  expect(readShort('', null, 4, 'point')).toBe(null);
  expect(readShort('', 0.5, 4, 'point')).toBe(null);
  expect(readShort('x', 0.5, 4, 'point')).toBe(NaN);
});

test('a number of our own has so many figures', () => {
  expect(writeShort(0.123456, 4, 'comma')).toBe('0,1235');
  expect(writeShort(0.123456, 4, 'point')).toBe('0.1235');
  expect(writeShort(null, 4, 'comma')).toBe('');
});
