// What somebody has pointed at, and how it changes: pure, and kept on this device until it stands in the lab book (decision 50).
import type { Schemas } from '@/shared/api/client';
import { newId } from '@/shared/book/newId';
import { keepQuietly } from '@/shared/ui/keepQuietly';
import type { Frames } from './frames';

export type Place = Schemas['Place'];
export type Tool = 'scale' | 'axes' | 'mark' | 'draw';
export type DrawnKind = Schemas['Drawn']['kind'];

export interface Thing {
  id: string;
  name: string;
  pivot: Place | null;
}

export interface Mark {
  thing: string;
  frame: number;
  /** How often it had been pointed at before. */
  turn: number;
  place: Place;
}

export interface Work {
  /** What it is about: another film with these is another. */
  name: string;
  size: number;
  count: number;
  /** As typed. */
  every: string;
  within: string;
  length: string;
  u: string;
  unit: string;
  ends: readonly Place[];
  origin: Place | null;
  along: Place | null;
  down: boolean;
  start: number;
  /** Every how manieth frame is marked. */
  step: number;
  things: readonly Thing[];
  marks: readonly Mark[];
  drawn: readonly { id: string; kind: DrawnKind; places: readonly Place[] }[];
}

/** Places that a length, an angle and an area end with by themselves. */
export const WHOLE: Readonly<Record<DrawnKind, number>> = { length: 2, angle: 3, area: Infinity };

export function beginWork({ name, size, count }: Pick<Frames, 'name' | 'size' | 'count'>): Work {
  return {
    name,
    size,
    count,
    every: '',
    within: '1',
    length: '',
    u: '',
    unit: 'm',
    ends: [],
    origin: null,
    along: null,
    down: false,
    start: 0,
    step: 1,
    things: [{ id: newId('b'), name: 'A', pivot: null }],
    marks: [],
    drawn: [],
  };
}

export function isAbout(work: Work, frames: Pick<Frames, 'name' | 'size' | 'count'>): boolean {
  return work.name === frames.name && work.size === frames.size && work.count === frames.count;
}

/** Whether there is anything in it that would be missed. */
export function isBlank(work: Work): boolean {
  return !work.ends.length && !work.origin && !work.marks.length && !work.drawn.length;
}

export function markAt(work: Work, thing: string, frame: number, turn: number): Mark | undefined {
  return work.marks.find((m) => m.thing === thing && m.frame === frame && m.turn === turn);
}

export function withMark(work: Work, mark: Mark): Work {
  const others = work.marks.filter((m) => m.thing !== mark.thing || m.frame !== mark.frame || m.turn !== mark.turn);
  return { ...work, marks: [...others, mark] };
}

export function withoutMark(work: Work, thing: string, frame: number, turn: number): Work {
  return { ...work, marks: work.marks.filter((m) => m.thing !== thing || m.frame !== frame || m.turn !== turn) };
}

/** An end of the known length: the first, the second, and then the one that is nearer. */
export function withEnd(work: Work, place: Place): Work {
  const [a, b] = work.ends;
  if (!a) return { ...work, ends: [place] };
  if (!b) return { ...work, ends: [a, place] };
  return { ...work, ends: distance(a, place) < distance(b, place) ? [place, b] : [a, place] };
}

/** The next corner of what is being drawn; one that is whole is followed by the next of its kind. */
export function withCorner(work: Work, kind: DrawnKind, place: Place): Work {
  const last = work.drawn.at(-1);
  if (!last || last.kind !== kind || last.places.length >= WHOLE[kind]) return { ...work, drawn: [...work.drawn, { id: newId('d'), kind, places: [place] }] };
  return { ...work, drawn: [...work.drawn.slice(0, -1), { ...last, places: [...last.places, place] }] };
}

export function distance(a: Place, b: Place): number {
  return Math.hypot(a.x - b.x, a.y - b.y);
}

/** Where x and y go, one pixel far. */
export function directionsOf({ origin, along, down }: Pick<Work, 'origin' | 'along' | 'down'>): { x: Place; y: Place } {
  const size = origin && along ? distance(origin, along) : 0;
  const x = origin && along && size >= 1 ? { x: (along.x - origin.x) / size, y: (along.y - origin.y) / size } : { x: 1, y: 0 };
  return { x, y: down ? { x: -x.y, y: x.x } : { x: x.y, y: -x.x } };
}

/** To the tenth of a pixel, within the picture. */
export function snapTo({ x, y }: Place, width: number, height: number): Place {
  const snap = (at: number, most: number) => Math.round(Math.min(Math.max(at, 0), most) * 10) / 10;
  return { x: snap(x, width), y: snap(y, height) };
}

/** As it is asked about, with the times of the frames that count. */
export function askedOf(
  work: Work,
  times: readonly number[] | null,
  units: { length: string; time: string; angle: string },
  columns: readonly string[],
): Schemas['Marks'] {
  const [a, b] = work.ends;
  const frames = times ? [...new Set([work.start, ...work.marks.map((m) => m.frame)])].sort((p, q) => p - q) : [];
  return {
    source: `film ${work.name.replace(/\.\w+$/, '')}`.slice(0, LONGEST_NAME).trim(),
    frames,
    times: frames.map((frame) => times?.[frame] ?? 0),
    every: work.every.trim(),
    start: work.start,
    within: work.within.trim() || '1',
    known: a && b && work.length.trim() ? { ends: [a, b], length: work.length.trim(), u: work.u.trim(), unit: work.unit } : null,
    axes: work.origin ? { origin: work.origin, along: work.along, y_down: work.down } : null,
    things: [...work.things],
    marks: [...work.marks],
    drawn: work.drawn.map((d) => ({ ...d, places: [...d.places] })),
    length_unit: units.length,
    time_unit: units.time,
    angle_unit: units.angle,
    columns: [...new Set(columns)],
  };
}

/** Of what readings come from, as it stands in a heading. */
const LONGEST_NAME = 28;

const keyOf = (person: number, book: number) => `hobrel:marks:${person}:${book}`;

export function keepWork(person: number, book: number, work: Work | null): void {
  keepQuietly(localStorage, keyOf(person, book), work && JSON.stringify(work));
}

/** What was left on this device; null where nothing was, or nothing that can be read. */
export function readWork(person: number, book: number): Work | null {
  try {
    const read = JSON.parse(localStorage.getItem(keyOf(person, book)) ?? 'null') as Partial<Work> | null;
    if (!read || typeof read.name !== 'string' || !Array.isArray(read.marks) || !Array.isArray(read.things) || !Array.isArray(read.drawn)) return null;
    return { ...beginWork({ name: read.name, size: 0, count: 0 }), ...read };
  } catch {
    return null;
  }
}
