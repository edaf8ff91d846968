import { describe, expect, it } from 'vitest';
import { type Palette, palettes, writeTheme } from './palettes';

// WCAG 2.2, relative luminance and contrast ratio
function luminance(hex: string): number {
  const [r = 0, g = 0, b = 0] = [1, 3, 5].map((i) => {
    const part = parseInt(hex.slice(i, i + 2), 16) / 255;
    return part <= 0.04045 ? part / 12.92 : ((part + 0.055) / 1.055) ** 2.4;
  });
  return 0.2126 * r + 0.7152 * g + 0.0722 * b;
}

function contrast(one: string, other: string): number {
  const [low, high] = [luminance(one), luminance(other)].sort((a, b) => a - b) as [number, number];
  return (high + 0.05) / (low + 0.05);
}

const written = [
  ...(['ink', 'quiet', 'plum', 'saffron-text', 'moss', 'brick'] as const).flatMap((name) =>
    (['sheet', 'paper', 'tint'] as const).map((on) => [name, on] as const),
  ),
  ...(['ink', 'plum'] as const).map((name) => [name, 'plum-wash'] as const),
  ...(['saffron', 'moss', 'brick'] as const).map((name) => ['ink', `${name}-wash`] as const),
  ['saffron-text', 'saffron-wash'],
  ['moss', 'moss-wash'],
  ['brick', 'brick-wash'],
  ['on-plum', 'plum'],
] as const;

describe.each(Object.entries(palettes))('the %s form', (name, palette: Palette) => {
  it.each(written)('lets %s be read on %s', (ink, on) => {
    expect(contrast(palette[ink], palette[on])).toBeGreaterThanOrEqual(name === 'contrast' ? 7 : 4.5);
  });

  // the light ones are those of Okabe and Ito, which 3:1 would darken; a shape goes with each
  it.runIf(name !== 'light').each([0, 1, 2, 3, 4, 5, 6] as const)('lets series %i be seen', (i) => {
    expect(contrast(palette.series[i] ?? palette.sheet, palette.sheet)).toBeGreaterThanOrEqual(3);
    expect(new Set(palette.series).size).toBe(7);
  });
});

it('prints on white paper whatever the screen is, and leaves forced colours to the system', () => {
  const [, printed, forced] = writeTheme('dark').split('\n');
  expect(printed).toContain(`--ink:${palettes.light.ink}`);
  expect(forced).toContain('--series-6:CanvasText');
});
