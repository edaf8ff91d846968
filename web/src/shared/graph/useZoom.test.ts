import { describe, expect, it } from 'vitest';
import { turnsOf } from './useZoom';

const event = (deltaY: number, deltaMode = 0, ctrlKey = false) => ({ deltaY, deltaMode, ctrlKey });

describe('turns of a wheel', () => {
  it('are as many as it turned, also where several come as one', () => {
    expect(turnsOf(event(-100))).toBe(-1);
    expect(turnsOf(event(-400))).toBe(-4);
    expect(turnsOf(event(5))).toBe(0.05);
    expect(turnsOf(event(-100_000))).toBe(-8);
  });

  it('are told in lines and pages too', () => {
    expect(turnsOf(event(3, 1))).toBeCloseTo(0.99);
    expect(turnsOf(event(-1, 2))).toBe(-4);
  });

  it('are quicker by two fingers, and not by a wheel with Ctrl', () => {
    expect(turnsOf(event(-10, 0, true))).toBe(-0.4);
    expect(turnsOf(event(-100, 0, true))).toBe(-1);
  });
});
