import { describe, expect, it } from 'vitest';
import { isTyped, textsOf } from './typing';

describe('what is typed before there is a cell', () => {
  it('is a text for each cell', () => {
    expect(textsOf(['0', '.', '1', '6', 'Backspace', '5', 'Enter', '2'])).toEqual(['0.15', '2']);
    expect(textsOf(['1', 'Enter'])).toEqual(['1', '']);
    expect(textsOf(['Backspace', 'Enter', 'Enter', '7'])).toEqual(['', '', '7']);
    expect(textsOf([])).toEqual(['']);
  });

  it('is signs, Enter and what takes a sign away', () => {
    expect(['5', ',', '−', 'Enter', 'Backspace'].every(isTyped)).toBe(true);
    expect(['Tab', 'Escape', 'ArrowDown', 'Shift', 'Dead'].some(isTyped)).toBe(false);
  });
});
