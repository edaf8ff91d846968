// Whether somebody writes along the rows while Enter goes down the columns, or the other way round: seen by where they go after Enter.

export type Direction = 'down' | 'across';
type At = readonly [number, number];

export interface Watch {
  /** Where Enter has led to, from where; until something is written or the focus goes elsewhere. */
  led: { from: At; to: At } | null;
  /** How often in a row they went to the neighbour in the other direction instead. */
  astray: number;
}

export const CALM: Watch = { led: null, astray: 0 };
/** So often in a row is no accident any more. */
export const OFTEN = 3;

const same = (a: At, b: At) => a[0] === b[0] && a[1] === b[1];

/** Enter has led from one cell to another after something was written. */
export function ledOn(watch: Watch, from: At, to: At): Watch {
  return { ...watch, led: { from, to } };
}

/** The focus has come to a cell. */
export function came(watch: Watch, at: At, direction: Direction): Watch {
  const { led } = watch;
  if (!led || same(at, led.to)) return watch;
  const [row, column] = led.from;
  const instead: At = direction === 'down' ? [row, column + 1] : [row + 1, column];
  return { led: null, astray: same(at, instead) ? watch.astray + 1 : 0 };
}

/** Something was written in a cell: where Enter led, it was right to. */
export function wrote(watch: Watch, at: At): Watch {
  return watch.led && same(at, watch.led.to) ? CALM : watch;
}
