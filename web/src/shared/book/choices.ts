// Graphs and fits as they are chosen now: what the server has, with choices that are still on their way laid over it.
import type { BookState, Schemas } from '@/shared/api/client';
import type { Waiting } from './store';

export function graphsOf(state: BookState, waiting: readonly Waiting[]): Schemas['Graph'][] {
  return state.document.graphs.map((graph) => {
    let now = graph;
    for (const { edit } of waiting) if (edit.type === 'place_graph' && edit.graph === graph.id) now = { ...now, ...edit };
    return now;
  });
}

export function fitsOf(state: BookState, waiting: readonly Waiting[]): Schemas['Fit'][] {
  return state.document.fits.map((fit) => {
    let now = fit;
    for (const { edit } of waiting)
      if (edit.type === 'place_fit' && edit.fit === fit.id) now = { ...now, ...edit };
    return now;
  });
}

/** The edit that places a graph as it is, but for some parts of it. */
export function placeGraph(graph: Schemas['Graph'], part: Partial<Schemas['Graph']>): Schemas['PlaceGraph'] {
  const { x, y, origin, x_low, x_high, y_low, y_high } = { ...graph, ...part };
  return { type: 'place_graph', graph: graph.id, x, y, origin, x_low, x_high, y_low, y_high };
}

/** The edit that places a fit as it is, but for some parts of it. */
export function placeFit(fit: Schemas['Fit'], part: Partial<Schemas['Fit']>): Schemas['PlaceFit'] {
  const { weights, through_origin, shape, formula, parameters, low, high, by_eye, steepest_by_eye, shallowest_by_eye, show_extremes } = { ...fit, ...part };
  return { type: 'place_fit', fit: fit.id, weights, through_origin, shape, formula, parameters: [...parameters], low, high, by_eye, steepest_by_eye, shallowest_by_eye, show_extremes };
}
