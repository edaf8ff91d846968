import { expect, it } from 'vitest';
import { withUnit } from './withUnit';

it('stands a degree sign close to its number, and any other unit after a space', () => {
  expect(withUnit('10.0', '°')).toBe('10.0°');
  expect(withUnit('10.0 ± 0.2', '°')).toBe('(10.0 ± 0.2)°');
  expect(withUnit('(1.2 ± 0.3) × 10⁵', '°')).toBe('(1.2 ± 0.3) × 10⁵°');
  expect(withUnit(10, '°C')).toBe('10 °C');
  expect(withUnit('10.0', '')).toBe('10.0');
});
