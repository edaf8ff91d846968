import { expect, test } from 'vitest';
import { readBlock } from './block';

test('a first line without a number is headings, also where one of them begins with a figure', () => {
  expect(readBlock('t / s\tx / m\n0\t1.5')).toEqual({ headings: ['t / s', 'x / m'], rows: [['0', '1.5']] });
  expect(readBlock('T / K\t1/T (1/K)\n300\t0.0033').headings).toEqual(['T / K', '1/T (1/K)']);
  expect(readBlock('L (cm)\t10 swings (s)\t2nd reading\n20\t9.0\t9.1').headings).toEqual(['L (cm)', '10 swings (s)', '2nd reading']);
  expect(readBlock('10 cm\t2.5\n20 cm\t3.1').headings).toBeNull();
  expect(readBlock('~3\t4\n5\t6').headings).toBeNull();
  expect(readBlock('only\twords').headings).toBeNull();
});

test('units that stand in a line of their own belong to the headings', () => {
  expect(readBlock('Length\tTime\n(cm)\t[s]\n20\t0.9')).toEqual({ headings: ['Length (cm)', 'Time [s]'], rows: [['20', '0.9']] });
  expect(readBlock('Length\tn\tspeed\ncm\t\tm s⁻¹\n20\t3\t0.9').headings).toEqual(['Length (cm)', 'n', 'speed (m s⁻¹)']);
  expect(readBlock('v\ta\n/ m/s\t/ m s-2\n20\t0.9').headings).toEqual(['v / m/s', 'a / m s-2']);
  expect(readBlock('Metal\tE (GPa)\ncopper\tn/a\niron\t210')).toEqual({
    headings: ['Metal', 'E (GPa)'],
    rows: [
      ['copper', 'n/a'],
      ['iron', '210'],
    ],
  });
  expect(readBlock('Plant\tSite\nm\ts\nm\tt').headings, 'nothing below is a number').toEqual(['Plant', 'Site']);
});

test('a heading over several columns is that of each, by the numbers below it', () => {
  expect(readBlock('Length (cm)\tTime (s)\t\t\n\t1\t2\t3\n20\t0.9\t0.8\t0.9')).toEqual({
    headings: ['Length (cm)', 'Time (s) 1', 'Time (s) 2', 'Time (s) 3'],
    rows: [['20', '0.9', '0.8', '0.9']],
  });
  expect(readBlock('L\tt\t\tx\t\n\t1\t2\t1\t2\n20\t1\t2\t3\t4').headings).toEqual(['L', 't 1', 't 2', 'x 1', 'x 2']);
  // readings, not numbers of repeats
  expect(readBlock('x\ty\t\n1\t2\t3\n4\t5\t6')).toEqual({
    headings: ['x', 'y', ''],
    rows: [
      ['1', '2', '3'],
      ['4', '5', '6'],
    ],
  });
  expect(readBlock('x\ty\t\n\t1\t3\n4\t5\t6').headings).toEqual(['x', 'y', '']);
  expect(readBlock('\ty\n1\t1\n4\t5').headings).toEqual(['', 'y']);
});

test('a cell of several lines is one cell', () => {
  expect(readBlock('"Length\n(cm)"\t"Time ""t"" (s)"\r\n20\t0.9')).toEqual({ headings: ['Length (cm)', 'Time "t" (s)'], rows: [['20', '0.9']] });
  expect(readBlock('x\ty\n"5"\t"6\n7"')).toEqual({ headings: ['x', 'y'], rows: [['5', '6 7']] });
  expect(readBlock('5" pipe\t3\n6" pipe\t4').rows).toEqual([
    ['5" pipe', '3'],
    ['6" pipe', '4'],
  ]);
});
