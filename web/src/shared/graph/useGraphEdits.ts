// What can be changed of a graph on the graph itself: its range, the origin, hidden series, where notes stand.
import type { Schemas } from '@/shared/api/client';
import { placeGraph } from '@/shared/book/choices';
import { useBook, useBookStore } from '@/shared/book/context';
import { useAxes } from '@/shared/book/useAxes';
import { AS_NEEDED, type Range } from './useZoom';

export function useGraphEdits(graph: Schemas['Graph']) {
  const { state } = useBook(({ state }) => ({ state }));
  const store = useBookStore();
  const axes = useAxes(graph);
  if (!state.can_edit) return {};
  const place = (part: Partial<Schemas['Graph']>) => store.edit(placeGraph(graph, part));
  return {
    choices: {
      options: axes.options,
      chosen: { x: graph.x, y: graph.y },
      onChoose: (axis: 'x' | 'y', quantity: string) => axes.place({ [axis]: quantity }),
    },
    onRange: (range: Range) => place(range),
    onOrigin: () => place({ origin: !graph.origin, ...AS_NEEDED }),
    onHide: (series: string) => place({ hidden: graph.hidden.includes(series) ? graph.hidden.filter((h) => h !== series) : [...graph.hidden, series] }),
    onLook: (series: string, look: number | null) => store.edit({ type: 'choose_look', series, look, was: state.document.looks?.[series] ?? null }),
    // by so much, for what stood there may still be on its way
    onMoveNote: (id: string, right: number, up: number) => {
      const near = (v: number) => Math.max(-1, Math.min(1, Number(v.toFixed(4))));
      place({ notes: graph.notes.map((n) => (n.id === id ? { ...n, right: near(n.right + right), up: near(n.up + up) } : n)) });
    },
  };
}
