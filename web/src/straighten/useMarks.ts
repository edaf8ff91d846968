// What somebody has said of plots before Hobrel says anything of them, for as long as the tab is open.
import { useState } from 'react';
import { keepQuietly } from '@/shared/ui/keepQuietly';
import type { Pair } from './Board';

export type Mark = 'straight' | 'bends' | 'unclear';

/** Marks by plot, of one board; `all` is whether the verdicts of all plots are wanted. */
interface Marks {
  all: boolean;
  of: Record<string, Mark>;
}

const nameOf = (pair: Pair) => `${pair.y_form} against ${pair.x_form}`;

function readMarks(key: string): Marks {
  const kept = sessionStorage.getItem(key);
  return kept ? (JSON.parse(kept) as Marks) : { all: false, of: {} };
}

export function useMarks(board: string) {
  const key = `marks of the board: ${board}`;
  const [kept, setMarks] = useState(() => ({ key, marks: readMarks(key) }));
  // another board has marks of its own
  const marks = kept.key === key ? kept.marks : readMarks(key);
  const keep = (next: Marks) => {
    keepQuietly(sessionStorage, key, JSON.stringify(next));
    setMarks({ key, marks: next });
  };
  return {
    all: marks.all,
    markOf: (pair: Pair): Mark | null => marks.of[nameOf(pair)] ?? null,
    say: (pair: Pair, mark: Mark) => keep({ ...marks, of: { ...marks.of, [nameOf(pair)]: mark } }),
    showAll: () => keep({ ...marks, all: true }),
  };
}
