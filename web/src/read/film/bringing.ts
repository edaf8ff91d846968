// From positions to readings of a run: which quantity each is, and the edits that bring them in.
import type { Edit, Quantity, Schemas } from '@/shared/api/client';
import { newSetting } from '@/shared/book/cells';
import { newId } from '@/shared/book/newId';
import type { MarksView } from './useWork';

export type Part = 't' | 'x' | 'y' | 'angle';
export const PARTS: readonly Part[] = ['t', 'x', 'y', 'angle'];
export const NAMES: Readonly<Record<Part, string>> = { t: 'time', x: 'position along x', y: 'position along y', angle: 'angle' };
/** Left out, or a quantity that is new. */
export const NONE = '';
export const NEW = 'new';
export type Targets = Record<Part, string>;

const SYMBOLS: Record<Part, string> = { t: 't', x: 'x', y: 'y', angle: 'theta' };

/** What is there to be brought in. */
export function partsOf(track: Schemas['TrackView']): Part[] {
  return PARTS.filter((part) => track.rows.some((row) => row[part]));
}

/** Whether a part goes into a column of such a unit. */
export type Fits = (part: Part, unit: string) => boolean;

/** Each part the quantity that is most likely meant: by its symbol, else the first of such a unit that is left; what is set is not where
 *  something is. */
export function suggest(parts: readonly Part[], read: readonly Quantity[], fits: Fits, mayAdd: boolean): Targets {
  const targets: Targets = { t: NONE, x: NONE, y: NONE, angle: NONE };
  const left = new Set(read.filter((q) => q.holds !== 'words'));
  const take = (part: Part, found: Quantity | undefined) => {
    if (!found) return;
    targets[part] = found.id;
    left.delete(found);
  };
  for (const part of parts)
    take(
      part,
      [...left].find((q) => q.symbol === SYMBOLS[part] && fits(part, q.unit)),
    );
  for (const part of parts)
    if (!targets[part])
      take(
        part,
        [...left].find((q) => fits(part, q.unit) && (part === 't' || q.kind === 'measured')),
      );
  for (const part of parts) if (!targets[part] && mayAdd) targets[part] = NEW;
  return targets;
}

/** The unit in which a part is wanted: that of the quantity it goes to. */
export function unitFor(part: Part, targets: Targets, read: readonly Quantity[], usual: string): string {
  return read.find((q) => q.id === targets[part])?.unit || usual;
}

export function instrumentOf(part: Part, view: MarksView): Schemas['Instrument'] | null {
  return { t: view.time, x: view.length, y: view.length, angle: view.angle }[part];
}

/** As the core tells. */
export function fitsIn(view: MarksView): Fits {
  const into = { t: view.into_time, x: view.into_length, y: view.into_length, angle: view.into_angle };
  return (part, unit) => into[part].includes(unit);
}

/** Whether a quantity can be said to be read from this: from nothing else so far, and the bench's to say. */
export function takesInstrument(quantity: Quantity, instrument: Schemas['Instrument'], mayChoose: boolean): boolean {
  return (!quantity.instrument || quantity.instrument.name === instrument.name) && (!quantity.given || mayChoose);
}

/** The first of a row of names that is not taken. */
export function firstFree(nameOf: (n: number) => string, isTaken: (name: string) => boolean): string {
  let n = 0;
  while (isTaken(nameOf(n))) n++;
  return nameOf(n);
}

export interface Bringing {
  view: MarksView;
  track: Schemas['TrackView'];
  targets: Targets;
  quantities: readonly Quantity[];
  /** Ids of quantities that an earlier thing has brought with it. */
  made: Map<Part, string>;
  units: Record<Part, string>;
  run: Schemas['Run'];
  /** The run is blank, and takes this thing. */
  fills: boolean;
  name: string;
}

/** The edit that brings the positions of one thing in: into the run that is blank, else as a run of its own. */
export function bringTrack({ view, track, targets, quantities, made, units, run, fills, name }: Bringing): { edit: Edit; run: string } {
  const taken = new Set(quantities.map((q) => q.symbol));
  const parts = PARTS.filter((part) => targets[part] !== NONE);
  const fresh: Schemas['NewHeading'][] = [];
  const ids = new Map<Part, string>();
  for (const part of parts) {
    const known = targets[part] === NEW ? made.get(part) : targets[part];
    ids.set(part, known ?? newId('q'));
    if (known) continue;
    made.set(part, ids.get(part) ?? '');
    const symbol = firstFree(
      (n) => (n ? `${SYMBOLS[part]}_${n}` : SYMBOLS[part]),
      (name) => taken.has(name),
    );
    const instrument = instrumentOf(part, view);
    fresh.push({ quantity: ids.get(part) ?? '', text: `${NAMES[part]} ${symbol} / ${units[part]}`, repeats: 1, instrument });
  }
  const settings = track.rows.map((row) => ({
    id: newSetting(),
    of_run: '',
    readings: Object.fromEntries(parts.filter((part) => row[part]).map((part) => [ids.get(part) ?? '', [{ text: row[part], set_aside: null }]])),
    set_aside: null,
  }));
  const ways = { settings, log: null, new: fresh.length ? fresh : null, first: fresh.length ? { graph: newId('g'), fit: newId('f') } : null };
  if (fills) return { edit: { type: 'fill_run', run: run.id, words: `${settings.length} positions of ${name} on a film`.slice(0, 200), ...ways }, run: run.id };
  const id = newId('r');
  return { edit: { type: 'add_run', run: id, name: name.slice(0, 80), headings: run.headings ?? null, ...ways }, run: id };
}
