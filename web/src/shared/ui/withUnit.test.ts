import { expect, it } from 'vitest';
import { tidyUnit, withUnit, writeU } from './withUnit';

it('stands a degree sign close to its number, and any other unit after a space', () => {
  expect(withUnit('10.0', '°')).toBe('10.0°');
  expect(withUnit('10.0 ± 0.2', '°')).toBe('(10.0 ± 0.2)°');
  expect(withUnit('(1.2 ± 0.3) × 10⁵', '°')).toBe('(1.2 ± 0.3) × 10⁵°');
  expect(withUnit(10, '°C')).toBe('10 °C');
  expect(withUnit('10.0', '')).toBe('10.0');
});

it('raises the powers of a typed unit, and leaves what it does not know', () => {
  expect(withUnit('9.81', 'm/s^2')).toBe('9.81 m/s²');
  expect(tidyUnit('kg m^2 s^-3')).toBe('kg m² s⁻³');
  expect(tidyUnit('m^(-2)')).toBe('m⁻²');
  expect(tidyUnit('s^(1/2)')).toBe('s^(1/2)');
  expect(tidyUnit('m/s²')).toBe('m/s²');
});

it('stands a typed ± once, and per cent without the unit', () => {
  expect(['0.1', '± 0.1', '+/- 0.1', '2 %', '±2%'].map((typed) => writeU(typed, 'kg/m^3'))).toEqual(['0.1 kg/m³', '0.1 kg/m³', '0.1 kg/m³', '2 %', '2%']);
});
