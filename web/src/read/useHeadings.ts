// Headings that are typed or pasted into a table without a plan: what is on its way, what was refused, and what is gone to next.
import { useMemo, useRef, useState } from 'react';
import type { Quantity } from '@/shared/api/client';
import { useBook, useBookStore } from '@/shared/book/context';
import { newId } from '@/shared/book/newId';
import { readBlock } from './block';
import { LONGEST, count } from '@/shared/book/cells';
import { type HeadingDraft, headingDrafts, headingOf, isCalledMean } from './headings';

const LONGEST_HEADING = 120;
/** More rows than this nobody has written down by hand. */
const MOST_ROWS = 300;

export interface Arrival {
  column: number;
  typed: readonly string[];
}

export interface Headings {
  /** Whether headings of one's own can be typed anew. */
  free: boolean;
  /** Whether new ones are typed at the edge of the table. */
  adds: boolean;
  drafts: readonly HeadingDraft[];
  /** Those of quantities that are not there yet. */
  newDrafts: readonly HeadingDraft[];
  /** Whether one more was asked for. */
  asked: boolean;
  ask: () => void;
  /** How many columns they take that have no quantity yet. */
  open: number;
  write: (text: string, quantity: string | null, onward: boolean) => void;
  /** Whether the block could be pasted as it is. */
  pasteTable: (text: string) => boolean;
  /** The new quantity whose column is gone to when it is there. */
  awaits: string | null;
  /** A key that is pressed meanwhile. */
  hold: (key: string) => void;
  /** The column that is gone to, once, when its heading is there; and what was typed for it by then. */
  arrived: () => Arrival | null;
}

export function useHeadings(run: string, columns: readonly Quantity[], editable: boolean): Headings {
  const { freedoms, waiting, refused } = useBook(({ state, waiting, refused }) => ({ freedoms: state.document.freedoms, waiting, refused }));
  const store = useBookStore();
  const [asked, setAsked] = useState(false);
  const [awaits, setAwaits] = useState<string | null>(null);
  const arrival = useRef<{ column: number; typed: string[] } | null>(null);
  const free = editable && (freedoms.plan || freedoms.own_quantities);
  // what a plan's table holds is seen as a whole; what is added to it is described with its instrument
  const adds = editable && freedoms.plan;
  const drafts = useMemo(() => (free ? headingDrafts(run, waiting, refused) : []), [free, refused, run, waiting]);
  const newDrafts = useMemo(() => drafts.filter((d) => !columns.some((q) => q.id === d.quantity)), [columns, drafts]);
  const there = columns.length + newDrafts.length;
  return {
    free,
    adds,
    drafts,
    newDrafts,
    asked,
    ask: () => setAsked(true),
    open: adds ? newDrafts.length + Math.max(2 - there, 1) : 0,
    write: (text, quantity, onward) => {
      const key = quantity ?? newId('q');
      const known = columns.find((q) => q.id === key);
      store.edit({ type: 'write_heading', run, quantity: key, text, was: known ? headingOf(known) : '', graph: newId('g'), fit: newId('f') });
      setAsked(false);
      const made = columns.length + newDrafts.filter((d) => d.quantity !== key).length + 1;
      // from the second heading on its readings are what is typed next; two new ones begin at the first
      if (onward && made >= 2) {
        // what was typed for its readings while a heading was on its way that was then refused is theirs still
        const typed = key === awaits ? (arrival.current?.typed ?? []) : [];
        arrival.current = { column: made === 2 ? 0 : columns.reduce((n, q) => n + q.repeats, 0), typed };
        setAwaits(key);
      } else if (onward) document.querySelectorAll<HTMLInputElement>('input[data-heading]')[1]?.focus();
    },
    pasteTable: (text) => {
      const block = readBlock(text);
      const width = Math.max(...block.rows.map((r) => r.length), block.headings?.length ?? 0);
      const headings = Array.from({ length: width }, (_, i) => block.headings?.[i] ?? '');
      const { rows } = block;
      // what does not fit, and what may be means that are worked out here, is looked over first, where it is said
      const fits =
        rows.length <= MOST_ROWS &&
        !headings.some(isCalledMean) &&
        headings.every((h) => h.length <= LONGEST_HEADING) &&
        rows.every((r) => r.every((cell) => cell.length <= LONGEST));
      if (!fits) return false;
      const words = `Pasted ${count(width, 'column')} of ${count(rows.length, 'row')}.`;
      store.edit({ type: 'paste_table', run, headings, rows, graph: newId('g'), fit: newId('f') }, words);
      return true;
    },
    awaits,
    hold: (key) => arrival.current?.typed.push(key),
    arrived: () => {
      const made = arrival.current;
      if (!made || !columns.some((q) => q.id === awaits)) return null;
      arrival.current = null;
      return made;
    },
  };
}
