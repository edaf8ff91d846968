// Which tiles are shown, in which order, and where they stand in the room.
import type { Schemas } from '@/shared/api/client';

export type Tile = Schemas['Tile'];
export type Need = Schemas['NeedOut']['kind'];
export type Filter = 'all' | 'hands' | 'help' | 'handed_in';

/** Needs that want the teacher to come; the others are only to be known. */
const HELP: readonly Need[] = ['hand', 'not_worked_out', 'factor', 'far', 'failed', 'slip', 'stuck'];
const ORDER: readonly Need[] = [...HELP, 'answered', 'changed_since', 'not_opened', 'handed_in'];

export const needsHelp = (tile: Tile): boolean => tile.needs.some((n) => HELP.includes(n.kind));
const has = (tile: Tile, kind: Need): boolean => tile.needs.some((n) => n.kind === kind);
const SHOWN: Record<Filter, (tile: Tile) => boolean> = {
  all: () => true,
  hands: (tile) => has(tile, 'hand'),
  help: needsHelp,
  handed_in: (tile) => has(tile, 'handed_in') || has(tile, 'changed_since'),
};

export const countOf = (tiles: readonly Tile[], filter: Filter): number => tiles.filter(SHOWN[filter]).length;

const urgency = (tile: Tile): number => (tile.needs[0] ? ORDER.indexOf(tile.needs[0].kind) : ORDER.length);

/** The tiles of a filter, those who need most first; of equal need as the benches are in order. */
export function byNeed(tiles: readonly Tile[], filter: Filter): Tile[] {
  return tiles.filter(SHOWN[filter]).sort((a, b) => urgency(a) - urgency(b));
}

export type Room = Record<string, [number, number]>;
export const COLUMNS = 8;

/** Where every bench stands: as somebody has arranged it, the others behind, four in a row. */
export function placesOf(tiles: readonly Tile[], room: Room): Map<number, [number, number]> {
  const placed = new Map<number, [number, number]>();
  const taken = new Set<string>();
  for (const { bench_id } of tiles) {
    const place = room[bench_id];
    if (place && !taken.has(place.join())) {
      placed.set(bench_id, place);
      taken.add(place.join());
    }
  }
  const last = Math.max(-1, ...[...placed.values()].map(([, row]) => row));
  let next = 0;
  for (const { bench_id } of tiles)
    if (!placed.has(bench_id)) {
      placed.set(bench_id, [next % 4, last + 1 + Math.floor(next / 4)]);
      next += 1;
    }
  return placed;
}

/** The room after a bench has gone to a place; who stood there goes where it came from. */
export function moveTo(places: Map<number, [number, number]>, bench: number, [column, row]: [number, number]): Room {
  const from = places.get(bench);
  const next: Room = {};
  if (!from || column < 0 || row < 0 || column >= COLUMNS || row > 15) return Object.fromEntries<[number, number]>(places);
  for (const [key, place] of places) next[key] = key !== bench && place[0] === column && place[1] === row ? from : place;
  next[bench] = [column, row];
  return next;
}

export const DIRECTIONS: Record<string, [number, number]> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };

/** Which tile an arrow key leads to, among tiles as they are drawn: the nearest in that direction. */
export function neighbour(boxes: readonly DOMRect[], at: number, key: string): number {
  const here = boxes[at];
  if (!here) return at;
  const [dx, dy] = DIRECTIONS[key] ?? [0, 0];
  let best = at;
  let least = Infinity;
  boxes.forEach((box, i) => {
    const along = dx ? (box.x - here.x) * dx : (box.y - here.y) * dy;
    const across = dx ? Math.abs(box.y - here.y) : Math.abs(box.x - here.x);
    const far = along + 3 * across;
    if (i !== at && along > 1 && far < least) [best, least] = [i, far];
  });
  return best;
}

export const sinceWords = (minutes: number | null): string =>
  minutes === null
    ? ''
    : minutes < 1
      ? 'just now'
      : minutes < 120
        ? `${minutes} min ago`
        : minutes < 2880
          ? `${Math.floor(minutes / 60)} h ago`
          : `${Math.floor(minutes / 1440)} days ago`;

/** Where what is needed can be seen; of a slip the cell, which gets the focus. */
export function addressOf(book: number, need: Schemas['NeedOut'] | undefined): string {
  if (!need) return `/books/${book}`;
  const query = new URLSearchParams({ ...(need.run && { run: need.run }), ...(need.at && { at: need.at }) }).toString();
  return `/books/${book}/${need.stage}${query && `?${query}`}`;
}
