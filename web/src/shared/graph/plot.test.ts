import { describe, expect, it } from 'vitest';
import { endsOf, makePlot, readable, shareOf, shorten, sizeOfPoints, snapped, valueAt, withRoom } from './plot';

const even = { label: [], low: -2, high: 8, ticks: [], name: '', log: false, named: false };
const logarithmic = { ...even, low: 1, high: 1000, log: true };

describe('places along an axis', () => {
  it('are even, or by factors', () => {
    expect(shareOf(even, 3)).toBe(0.5);
    expect(shareOf(logarithmic, 10)).toBeCloseTo(1 / 3);
    expect(shareOf(logarithmic, 1000)).toBeCloseTo(1);
  });

  it('lie below a logarithmic axis where nothing is above zero', () => {
    expect(shareOf(logarithmic, 0)).toBe(-1);
    expect(shareOf(logarithmic, -5)).toBe(-1);
  });

  it('are found again from their share', () => {
    for (const axis of [even, logarithmic]) for (const share of [-0.2, 0, 0.3, 1, 1.4]) expect(shareOf(axis, valueAt(axis, share))).toBeCloseTo(share);
  });

  it('snap to a point that is near', () => {
    expect(snapped(104, [50, 100, 200], 9)).toBe(100);
    expect(snapped(109, [50, 100, 200], 9)).toBe(100);
    expect(snapped(110, [50, 100, 200], 9)).toBe(110);
    expect(snapped(110, [], 9)).toBe(110);
  });

  it('are numbered as closely as the numbers have room', () => {
    const ticks = [-20000, -10000, 0, 10000].map((value) => ({ value, text: String(value) }));
    const shown = (apart: number) => withRoom(ticks, (v) => (v / 10000) * apart).map((t) => t.text);
    // six letters of eight pixels, and as much between them as a letter takes
    expect(shown(56)).toEqual(['-20000', '-10000', '0', '10000']);
    expect(shown(55)).toEqual(['-20000', '0']);
    expect(shown(27)).toEqual(['-20000', '10000']);
    expect(withRoom(ticks.slice(0, 1), () => 0)).toHaveLength(1);
    expect(withRoom([], () => 0)).toEqual([]);
  });

  it('are written so that what stands there stays within', () => {
    expect(readable(0.3, 'below')).toBe(0.3);
    expect(readable(0.123456789, 'below')).toBe(0.123456);
    expect(readable(0.123456789, 'above')).toBe(0.123457);
    expect(readable(-12.3456789, 'above')).toBe(-12.3456);
    expect(readable(-12.3456789, 'below')).toBe(-12.3457);
    expect(readable(0, 'above')).toBe(0);
    for (const place of [1.0000001, 99999.99, -0.00123456789, 7e12 + 1]) {
      expect(readable(place, 'below')).toBeLessThanOrEqual(place);
      expect(readable(place, 'above')).toBeGreaterThanOrEqual(place);
    }
  });

  it('are kept in figures that somebody would type', () => {
    const shown = (low: number, high: number, log = false) => Object.values(endsOf({ ...even, low, high, log }));
    expect(shown(0.3105166667, 1.1791499)).toEqual([0.3105, 1.1791]);
    expect(shown(-0.00012345, 0.0087654321)).toEqual([-0.000123, 0.008765]);
    expect(shown(1234567.8, 7654321.9)).toEqual([1235000, 7654000]);
    expect(shown(0.0123456, 12345.67, true)).toEqual([0.01235, 12350]);
    // ends that lie very near each other are still two
    const [low = 0, high = 0] = shown(1e6 + 1e-4, 1e6 + 2e-4);
    expect(high - low).toBeCloseTo(1e-4, 7);
  });

  it('take as much of a kind as there is room for', () => {
    expect(shorten('copper', 45)).toBe('copper');
    expect(shorten('stainless steel', 75)).toBe('stainless…');
    expect(shorten('brass', 3)).toBe('b…');
  });

  it('go up the screen as numbers grow', () => {
    const plot = makePlot(even, logarithmic, 50, 10, 200, 300);
    expect([plot.x(-2), plot.x(8)]).toEqual([50, 250]);
    expect([plot.y(1), plot.y(1000)].map(Math.round)).toEqual([310, 10]);
    expect(plot.xAt(150)).toBeCloseTo(3);
    expect(plot.yAt(210)).toBeCloseTo(10);
  });
});

describe('the size of points', () => {
  const plot = makePlot({ ...even, low: 0, high: 100 }, { ...even, low: 0, high: 100 }, 0, 0, 100, 100);
  const point = (uy: number, ux = 0) => ({ x: 50, y: 50, ux, uy, set_aside: false });

  it('is one for a graph, small where most of the bars would be hidden', () => {
    expect(sizeOfPoints([point(3.9), point(3.9), point(4)], plot)).toBe(2);
    expect(sizeOfPoints([point(3.9), point(4)], plot)).toBe(3.8);
    expect(sizeOfPoints([point(3.9, 4), point(1, 1), point(9)], plot)).toBe(3.8);
    expect(sizeOfPoints([point(0), point(0)], plot)).toBe(3.8);
    expect(
      sizeOfPoints(
        Array.from({ length: 151 }, () => point(9)),
        plot,
      ),
    ).toBe(0.8);
  });
});
