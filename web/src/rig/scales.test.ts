import { describe, expect, it } from 'vitest';
import { nearMarks } from './ScaleFace';

describe('a scale by ear', () => {
  const ruler = { division: 1, unit: 'mm' };
  it.each([
    [47.02, 'at 47 mm'],
    [47.97, 'at 48 mm'],
    [47.3, 'between 47 and 48 mm, nearer the lower mark'],
    [47.5, 'between 47 and 48 mm, near the middle'],
    [47.8, 'between 47 and 48 mm, nearer the upper mark'],
  ])('says where %s stands without estimating', (at, words) => {
    expect(nearMarks(ruler, at)).toBe(words);
  });

  it('counts in divisions of any size', () => {
    expect(nearMarks({ division: 0.1, unit: 'mL' }, 21.33)).toBe('between 21.3 and 21.4 mL, nearer the lower mark');
    expect(nearMarks({ division: 2, unit: 'V' }, 7.9)).toBe('at 8 V');
  });
});
