import { expect, it } from 'vitest';
import { goTogether } from './lights';

it('lights a reading with its setting and a setting with its readings, and no other', () => {
  expect(goTogether('s1:t:2', 's1:t:2')).toBe(true);
  expect(goTogether('s1:t:2', 's1')).toBe(true);
  expect(goTogether('s1', 's1:t:0')).toBe(true);
  expect(goTogether('s1:t:2', 's1:t:1')).toBe(false);
  expect(goTogether('s1', 's10')).toBe(false);
  expect(goTogether('s1:t:2', 's10')).toBe(false);
});
