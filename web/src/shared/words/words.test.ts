import { describe, expect, it } from 'vitest';
import { TRADE_WORDS, explain } from './words';

const titles = (text: string) => explain(text).flatMap((p) => p.word?.title ?? []);

describe('words of the trade', () => {
  it('are found in their sentences, in order, once each', () => {
    const text = '± is half the range of the repeats; it is carried through formulas in quadrature, and in quadrature again.';
    expect(titles(text)).toEqual(['half the range', 'in quadrature']);
    expect(
      explain(text)
        .map((p) => p.text)
        .join(''),
    ).toBe(text);
  });

  it('are no parts of other words', () => {
    expect(titles('The barsoap weighted residuals')).toEqual(['weighted', 'residual']);
    expect(titles('crowbars')).toEqual([]);
    expect(titles('')).toEqual([]);
  });

  it('are the longer of two that begin alike', () => {
    expect(titles('standard deviation between them 0.3, median absolute deviation 0.2')).toEqual(['standard deviation', 'median absolute deviation']);
    expect(titles('the median of them; a median absolute deviation')).toEqual(['median', 'median absolute deviation']);
    expect(titles('they are 0.5 combined uncertainties apart')).toEqual(['combined uncertainty']);
    expect(titles('medians')).toEqual([]);
  });

  it('are told in two sentences each, and none twice', () => {
    for (const word of TRADE_WORDS) expect(word.says.split(/[.] /).length).toBeLessThanOrEqual(3);
    expect(new Set(TRADE_WORDS.map((w) => w.title)).size).toBe(TRADE_WORDS.length);
  });
});
