// A block of cells that has been chosen: from where the focus is to where Shift and an arrow, or the mouse, have gone.

export type Corner = readonly [row: number, column: number];

export interface Chosen {
  anchor: Corner;
  head: Corner;
}

export type Way = 'up' | 'down' | 'left' | 'right' | 'all';

export function edgesOf({ anchor, head }: Chosen) {
  return {
    top: Math.min(anchor[0], head[0]),
    bottom: Math.max(anchor[0], head[0]),
    left: Math.min(anchor[1], head[1]),
    right: Math.max(anchor[1], head[1]),
  };
}

export function isIn(chosen: Chosen | null, row: number, column: number): boolean {
  if (!chosen) return false;
  const { top, bottom, left, right } = edgesOf(chosen);
  return row >= top && row <= bottom && column >= left && column <= right;
}

/** The block with its free corner moved one cell on, kept within the table; one cell alone is no block. */
export function extend(chosen: Chosen | null, from: Corner, way: Way, last: Corner): Chosen | null {
  if (way === 'all') return { anchor: [0, 0], head: last };
  const [row, column] = chosen?.head ?? from;
  const step = { up: [-1, 0], down: [1, 0], left: [0, -1], right: [0, 1] }[way];
  const head: Corner = [Math.min(last[0], Math.max(0, row + (step[0] ?? 0))), Math.min(last[1], Math.max(0, column + (step[1] ?? 0)))];
  return reach(chosen?.anchor ?? from, head);
}

export function reach(anchor: Corner, head: Corner): Chosen | null {
  return anchor[0] === head[0] && anchor[1] === head[1] ? null : { anchor, head };
}
