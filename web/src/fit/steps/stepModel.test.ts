import { describe, expect, it } from 'vitest';
import {
  changeStage,
  changeState,
  freeSymbol,
  isAbout,
  removePart,
  removeStage,
  sliderEnds,
  withIds,
  writeSlid,
  type StateQuantity,
  type StepModel,
} from './stepModel';

const v: StateQuantity = {
  id: 'b',
  symbol: 'v',
  unit: 'm/s',
  start: '0',
  rate: 'g',
  stages: [{ id: 'w', when: 'v > 0', rate: '0' }],
  fitted: false,
};
const model: StepModel = {
  states: [{ id: 'a', symbol: 'x', unit: 'm', start: '0', rate: 'v', stages: [], fitted: false }, v],
  numbers: [{ id: 'n', symbol: 'k', unit: '1/s', value: '2', fitted: true }],
  drawn: '',
  begins: '0',
  step: '',
  way: 'fourth',
};

describe('a step-by-step model', () => {
  it('changes one thing and leaves the rest as it is', () => {
    const next = changeState(model, 'b', { rate: 'g - k v' });
    expect(next.states[1]).toEqual({ ...model.states[1], rate: 'g - k v' });
    expect(next.states[0]).toBe(model.states[0]);
    expect(next.numbers).toBe(model.numbers);
  });
  it('changes and removes a stage of one rate', () => {
    expect(changeStage(model, v, 'w', { when: 'v > 1' }).states[1]?.stages).toEqual([{ id: 'w', when: 'v > 1', rate: '0' }]);
    expect(removeStage(model, v, 'w').states[1]?.stages).toEqual([]);
  });
  it('takes states and numbers out', () => {
    expect(removePart(model, 'a').states.map((s) => s.id)).toEqual(['b']);
    expect(removePart(model, 'n').numbers).toEqual([]);
  });
  it('finds a symbol that nothing has yet', () => {
    expect(freeSymbol(model, 'vuw')).toBe('u');
    expect(freeSymbol(model, 'xvk')).toBe('x_3');
  });
  it('gives new ids, and knows what trouble is about', () => {
    let next = 0;
    expect(withIds(model, () => `new${next++}`).numbers[0]?.id).toBe('new2');
    expect(isAbout({ code: 'bad_unit', message: '', fields: { item: 'a' } }, 'a')).toBe(true);
    expect(isAbout(null, 'a')).toBe(false);
  });
  it.each([
    [9.81, 0, 19.62, 0.01],
    [-0.02, -0.04, 0, 0.0001],
    [0, -1, 1, 0.01],
    [1200, 0, 2400, 10],
  ])('slides about %d as far as nothing and as far again', (value, low, high, step) => {
    const ends = sliderEnds(value);
    expect(ends.low).toBeCloseTo(low, 10);
    expect(ends.high).toBeCloseTo(high, 10);
    expect(ends.step).toBeCloseTo(step, 10);
  });
  it('writes where it stands without digits that nobody chose', () => {
    expect(writeSlid(0.1 + 0.2, 0.01)).toBe('0.3');
    expect(writeSlid(0.0304, 0.0001)).toBe('0.0304');
    expect(writeSlid(1230, 10)).toBe('1230');
  });
});
