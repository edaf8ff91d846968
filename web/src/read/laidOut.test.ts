import { describe, expect, it } from 'vitest';
import { layOut } from './laidOut';

const laid = (from: string, to: string, step: string) => {
  const found = layOut(from, to, step);
  return 'values' in found ? found.values : found.wrong;
};

describe('even settings', () => {
  it('keep the decimals that were typed and the value at the end', () => {
    expect(laid('0.30', '0.65', '0.05')).toEqual(['0.30', '0.35', '0.40', '0.45', '0.50', '0.55', '0.60', '0.65']);
    expect(laid('0', '1', '0.1')).toHaveLength(11);
    expect(laid('0', '1', '0.1')[3]).toBe('0.3');
    expect(laid('10', '50', '10')).toEqual(['10', '20', '30', '40', '50']);
  });

  it('stop before the end where the step does not meet it', () => {
    expect(laid('1', '2', '0.3')).toEqual(['1.0', '1.3', '1.6', '1.9']);
  });

  it('go down too, whatever sign the step has', () => {
    expect(laid('90', '30', '20')).toEqual(['90', '70', '50', '30']);
    expect(laid('90', '30', '-20')).toEqual(['90', '70', '50', '30']);
    expect(laid('−10', '10', '10')).toEqual(['-10', '0', '10']);
  });

  it('have a comma where one was typed', () => {
    expect(laid('0,5', '1,5', '0,5')).toEqual(['0,5', '1,0', '1,5']);
  });

  it('are one where both ends are the same', () => {
    expect(laid('3', '3', '1')).toEqual(['3']);
  });

  it('say what is wrong', () => {
    expect(laid('a', '2', '1')).toContain('plain numbers');
    expect(laid('1', '', '1')).toContain('plain numbers');
    expect(laid('1', '2', '0')).toContain('nowhere');
    expect(laid('0', '1000', '0.001')).toContain('1000001 settings');
    expect(laid('0', '1e9', '1')).toContain('plain numbers');
  });
});
