import { afterEach, beforeEach, expect, test, vi } from 'vitest';

const asked = vi.hoisted(() => [] as string[]);
vi.mock('./stationCode', () => {
  const code = (name: string) => () => {
    asked.push(name);
    return Promise.resolve(() => null);
  };
  return { loaders: { ask: code('ask'), read: code('read'), fit: code('fit') } };
});

beforeEach(() => {
  vi.resetModules();
  vi.useFakeTimers();
  asked.length = 0;
  vi.stubGlobal('window', { setTimeout });
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

async function rest(connection: object | undefined, ms: number): Promise<() => void> {
  vi.stubGlobal('navigator', { connection });
  const { loadRest } = await import('./stages');
  const stop = loadRest();
  await vi.advanceTimersByTimeAsync(ms);
  return stop;
}

test.each([undefined, {}, { saveData: false }])('a page that has rested fetches the other stations, one after another (%o)', async (connection) => {
  await rest(connection, 1500 + 800);
  expect(asked).toEqual(['ask']);
  await vi.advanceTimersByTimeAsync(5000);
  expect(asked).toEqual(['ask', 'read', 'fit']);
});

test('a page that is left fetches no more', async () => {
  const stop = await rest(undefined, 1500 + 800);
  stop();
  await vi.advanceTimersByTimeAsync(60_000);
  expect(asked).toEqual(['ask']);
});

test('where data is dear none is fetched before it is opened', async () => {
  await rest({ saveData: true }, 60_000);
  expect(asked).toEqual([]);
});
