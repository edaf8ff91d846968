import { describe, expect, it } from 'vitest';
import { CALM, type Direction, OFTEN, type Watch, came, ledOn, wrote } from './direction';

type At = [number, number];

/** Written in one cell after another with Enter after each, whose own way leads elsewhere. */
function write(cells: At[], direction: Direction): Watch {
  let watch = CALM;
  for (const at of cells) {
    watch = wrote(came(watch, at, direction), at);
    const to: At = direction === 'down' ? [at[0] + 1, at[1]] : [at[0], at[1] + 1];
    watch = came(ledOn(watch, at, to), to, direction);
  }
  return watch;
}

describe('the direction that somebody writes in', () => {
  const row: At[] = [
    [0, 0],
    [0, 1],
    [0, 2],
    [0, 3],
  ];
  const column: At[] = [
    [0, 1],
    [1, 1],
    [2, 1],
    [3, 1],
  ];
  it('is noticed where Enter leads the other way each time', () => {
    expect(write(row, 'down').astray).toBe(OFTEN);
    expect(write(column, 'across').astray).toBe(OFTEN);
  });
  it('is not where Enter leads right, or the person jumps about', () => {
    expect(write(row, 'across').astray).toBe(0);
    expect(write(column, 'down').astray).toBe(0);
    expect(
      write(
        [
          [0, 0],
          [0, 1],
          [4, 2],
          [4, 3],
        ],
        'down',
      ).astray,
    ).toBe(1);
  });
  it('is forgotten as soon as Enter was right', () => {
    expect(write([...row, [1, 3]], 'down').astray).toBe(0);
  });
});
