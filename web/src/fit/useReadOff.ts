// Values read off a fit: typed, or at a place of the graph that was pointed at; those that were kept stay until the page is left.
import { useState } from 'react';
import { type Schemas, client, get } from '@/shared/api/client';
import { useBook } from '@/shared/book/context';
import { useLatest } from '@/shared/ui/useLatest';

export type Direction = Schemas['ReadValue']['direction'];
export type Kept = Schemas['ReadValue'] & { repeats: number };

export interface ReadOffState {
  kept: readonly Kept[];
  trouble: string;
  /** What the fit says where the pointer is. */
  under: Schemas['ReadValue'] | undefined;
  ask: (direction: Direction, at: string, repeats: number) => void;
  point: (x: number | null) => void;
  pick: (x: number) => void;
}

const MOST = 8;

/** A place on the screen, to no more figures than a pointer can mean. */
function short(x: number, figure: Schemas['Figure']): string {
  if (figure.x_axis.log) return String(Number(x.toPrecision(3)));
  const step = (figure.x_axis.high - figure.x_axis.low) / 500;
  return x.toFixed(Math.min(12, Math.max(0, -Math.floor(Math.log10(step)))));
}

export function useReadOff(fit: string, figure: Schemas['Figure'] | null): ReadOffState {
  const { state, run } = useBook(({ state, run }) => ({ state, run }));
  const [kept, setKept] = useState<readonly Kept[]>([]);
  const [trouble, setTrouble] = useState('');
  const [cursor, setCursor] = useState<number | null>(null);
  const question = (direction: Direction, at: string, repeats: number) =>
    get(client.GET('/api/books/{book_id}/read-off', { params: { path: { book_id: state.id }, query: { fit, direction, at, repeats, run } } }));
  const under = useLatest(cursor === null || !figure ? null : short(cursor, figure), (at) => question('forward', at, 1));
  const ask = (direction: Direction, at: string, repeats: number) => {
    setTrouble('');
    question(direction, at, repeats)
      .then((found) => setKept((before) => [{ ...found, repeats }, ...before].slice(0, MOST)))
      .catch((e: unknown) => setTrouble(e instanceof Error ? e.message : ''));
  };
  return {
    kept,
    trouble,
    under,
    ask,
    point: setCursor,
    pick: (x) => {
      if (figure) ask('forward', short(x, figure), 1);
    },
  };
}
