import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { clock, hourOrDay, spokenDate, when } from './moments';

beforeEach(() => {
  vi.useFakeTimers();
  vi.setSystemTime(new Date(2026, 10, 30, 9, 0));
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllEnvs();
});

const now = new Date(2026, 11, 1, 10, 5).toISOString();
const then = new Date(2025, 9, 12, 8, 42).toISOString();

test('a moment of this year is said without it', () => {
  expect(spokenDate(now)).toBe('Tuesday 1 December, 10:05');
  expect(when(now)).toBe('1 Dec, 10:05');
});

test('a moment of another year says of which', () => {
  expect(spokenDate(then)).toBe('Sunday 12 October 2025, 08:42');
  expect(when(then)).toBe('12 Oct 2025, 08:42');
});

test.each(['America/Los_Angeles', 'Europe/London', 'Pacific/Auckland'])('a day is the same day in %s', (zone) => {
  vi.stubEnv('TZ', zone);
  expect(spokenDate('2026-12-01')).toBe('Tuesday 1 December');
  expect(spokenDate('2025-12-01')).toBe('Monday 1 December 2025');
});

test('of today only the hour is said', () => {
  expect(hourOrDay(new Date(2026, 10, 30, 23, 59).toISOString())).toBe('23:59');
  expect(hourOrDay(now)).toBe('1 December');
  expect(hourOrDay(then)).toBe('12 October 2025');
});

test('the hour is that of a day of 24', () => {
  expect(clock(new Date(2026, 0, 1, 21, 7).getTime())).toBe('21:07');
});
