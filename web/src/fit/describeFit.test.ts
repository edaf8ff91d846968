import { expect, it } from 'vitest';
import type { Schemas } from '@/shared/api/client';
import { describeFit } from './describeFit';

const fit = (weights: Schemas['Fit']['weights']) => ({ weights, shape: 'line', through_origin: false, hidden: false, low: null, high: null }) as Schemas['Fit'];
const figure = (ux: number, uy: number) => ({ series: [{ points: [{ ux, uy }] }] }) as unknown as Schemas['Figure'];

it('says of bars what the points have of them', () => {
  const said = (weights: Schemas['Fit']['weights'], ...bars: [number, number]) => describeFit(fit(weights), undefined, figure(...bars), 'point')[1];
  expect(said('both_bars', 0.1, 0.2)).toBe('counting both bars');
  expect(said('both_bars', 0, 0.2)).toBe('counting the bars in y');
  expect(said('both_bars', 0, 0)).toBe('all points the same');
  expect(said('y_bars', 0.1, 0.2)).toBe('counting the bars in y');
  expect(said('y_bars', 0.1, 0)).toBe('all points the same');
  expect(said('none', 0.1, 0.2)).toBe('all points the same');
  // nothing is drawn yet: what is asked for
  expect(describeFit(fit('both_bars'), undefined, null, 'point')[1]).toBe('counting both bars');
});
