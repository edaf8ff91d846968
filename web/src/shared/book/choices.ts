// Graphs and fits as they are chosen now: what the server has, with choices that are still on their way laid over it.
import type { BookState, Schemas } from '@/shared/api/client';
import type { Waiting } from './store';

export function graphsOf(state: BookState, waiting: readonly Waiting[]): Schemas['Graph'][] {
  return state.document.graphs.map((graph) => {
    let now = graph;
    for (const { edit } of waiting) if (edit.type === 'place_graph' && edit.graph === graph.id) now = { ...now, x: edit.x, y: edit.y, origin: edit.origin };
    return now;
  });
}

export function fitsOf(state: BookState, waiting: readonly Waiting[]): Schemas['Fit'][] {
  return state.document.fits.map((fit) => {
    let now = fit;
    for (const { edit } of waiting)
      if (edit.type === 'place_fit' && edit.fit === fit.id) now = { ...now, weights: edit.weights, through_origin: edit.through_origin };
    return now;
  });
}
