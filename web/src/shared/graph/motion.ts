// A graph over time played as the motion that it is of: where things are at a moment, and how quickly it is played.
import type { Figure, Schemas } from '@/shared/api/client';

const SECONDS: Readonly<Record<string, number>> = { µs: 1e-6, ms: 1e-3, s: 1, min: 60, h: 3600, d: 86_400 };
const RADIANS: Readonly<Record<string, number>> = { rad: 1, '°': Math.PI / 180, deg: Math.PI / 180 };

/** Seconds in a unit of time; null for another unit. */
export const secondsIn = (unit: string): number | null => SECONDS[unit] ?? null;
/** Radians in a unit of angle; null for another unit. */
export const radiansIn = (unit: string): number | null => RADIANS[unit] ?? null;

export interface Path {
  name: string;
  /** Of the series; null for a model. */
  look: number | null;
  x: readonly number[];
  y: readonly number[];
}

function pathOf(name: string, look: number | null, places: readonly { x: number; y: number }[]): Path {
  const ordered = [...places].sort((a, b) => a.x - b.x);
  return { name, look, x: ordered.map((p) => p.x), y: ordered.map((p) => p.y) };
}

/** What moves: the points of each series, and what is fitted to them. */
export function pathsOf(figure: Figure): Path[] {
  const seen = figure.series.map((s) =>
    pathOf(
      s.name,
      s.look,
      s.points.filter((p) => !p.set_aside),
    ),
  );
  const isModel = (line: Schemas['ModelLine']) => line.kind === 'fit';
  const models = figure.lines.filter(isModel).map((line) =>
    pathOf(
      'what is fitted',
      null,
      line.x.map((x, i) => ({ x, y: line.y[i] ?? 0 })),
    ),
  );
  return [...seen, ...models].filter((path) => path.x.length > 1);
}

/** Where a path is at a moment, straight on from one point to the next; null before and after it. */
export function placeOn({ x, y }: Pick<Path, 'x' | 'y'>, at: number): number | null {
  const last = x.length - 1;
  if (last < 0 || at < (x[0] ?? 0) || at > (x[last] ?? 0)) return null;
  let [low, high] = [0, last];
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if ((x[middle] ?? 0) <= at) low = middle;
    else high = middle;
  }
  const [from, to, a, b] = [x[low] ?? 0, x[high] ?? 0, y[low] ?? 0, y[high] ?? 0];
  return to > from ? a + ((b - a) * (at - from)) / (to - from) : b;
}

/** From the first moment of what moves to the last. */
export function spanOf(paths: readonly Path[]): [number, number] {
  return [Math.min(...paths.map((p) => p.x[0] ?? Infinity)), Math.max(...paths.map((p) => p.x.at(-1) ?? -Infinity))];
}

export const SPEEDS = [0.001, 0.01, 0.1, 0.25, 1, 10, 100, 1000, 10_000, 100_000] as const;
const LONGEST = 12;

/** The speed nearest to that of life at which so many seconds are seen well. */
export function speedFor(seconds: number): number {
  const seenWell = SPEEDS.filter((speed) => seconds / speed >= 1.5 && seconds / speed <= LONGEST * 1.01);
  const near = (speed: number) => Math.abs(Math.log(speed));
  return [...seenWell].sort((a, b) => near(a) - near(b))[0] ?? (seconds > LONGEST ? 100_000 : 0.001);
}

export function saySpeed(speed: number): string {
  if (speed === 1) return 'as it was';
  return speed > 1 ? `${speed.toLocaleString('en')} times as quick` : `${(1 / speed).toLocaleString('en')} times as slow`;
}
