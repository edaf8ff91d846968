// What somebody has done to the rig of a lab book in this tab; all of it is sent with each question (decision 49).
import { newId } from '@/shared/book/newId';
import { keepQuietly } from '@/shared/ui/keepQuietly';

export interface Act {
  kind: string;
  value: string;
  /** Seconds since the bench was laid out. */
  at: number;
}

export interface Sitting {
  /** Whose scatter it is. */
  hand: string;
  /** When the bench was laid out, by this device's clock. */
  begun: number;
  acts: readonly Act[];
}

const keyOf = (book: number, rig: string) => `hobrel:rig:${book}:${rig}`;

export function layOut(now: number): Sitting {
  return { hand: newId('h'), begun: now, acts: [] };
}

/** The time of the rig. A clock that goes back is held still. */
export function secondsOf(sitting: Sitting, now: number): number {
  const last = sitting.acts.at(-1)?.at ?? 0;
  return Math.max(last, 0, (now - sitting.begun) / 1000);
}

/** To a millisecond, as times are sent. */
export function roundSecond(seconds: number): number {
  return Math.round(seconds * 1000) / 1000;
}

export function withAct(sitting: Sitting, kind: string, value: string, now: number): Sitting {
  return { ...sitting, acts: [...sitting.acts, { kind, value, at: roundSecond(secondsOf(sitting, now)) }] };
}

function isSitting(read: unknown): read is Sitting {
  const it = read as Partial<Sitting> | null;
  return typeof it === 'object' && it !== null && typeof it.hand === 'string' && typeof it.begun === 'number' && Array.isArray(it.acts);
}

/** As it was left in this tab; a fresh bench where nothing was, or nothing that can be read. */
export function readSitting(book: number, rig: string, now: number): Sitting {
  try {
    const read: unknown = JSON.parse(sessionStorage.getItem(keyOf(book, rig)) ?? 'null');
    if (isSitting(read)) return read;
  } catch {
    // what cannot be read is laid out anew
  }
  const laid = layOut(now);
  keepSitting(book, rig, laid);
  return laid;
}

export function keepSitting(book: number, rig: string, sitting: Sitting): void {
  keepQuietly(sessionStorage, keyOf(book, rig), JSON.stringify(sitting));
}
