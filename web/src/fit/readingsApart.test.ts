import { expect, test } from 'vitest';
import { apart } from './readingsApart';

test('readings in one field are told apart as people write them', () => {
  for (const [typed, readings] of [
    ['3.71 3.74', ['3.71', '3.74']],
    ['3,71; 3,74', ['3,71', '3,74']],
    ['3.71, 3.74,  3.7', ['3.71', '3.74', '3.7']],
    ['3,71, 3,74', ['3,71', '3,74']],
    ['3.71 s 3.74 s', ['3.71 s', '3.74 s']],
    ['0.41 ± 0.01', ['0.41 ± 0.01']],
    ['−0.4 -0.5  +0.6', ['−0.4', '-0.5', '+0.6']],
    ['ln(41) ln( 42 )', ['ln(41)', 'ln( 42 )']],
    ['2 * 0.41', ['2 * 0.41']],
    ['.41 ,42', ['.41', ',42']],
    ['  ', []],
    ['0.41', ['0.41']],
  ] as const)
    expect(apart(typed)).toEqual(readings);
});
