// Graphs and fits as they are chosen now: what the server has, with choices that are still on their way laid over it.
import type { BookState, Schemas } from '@/shared/api/client';
import type { Waiting } from './store';
import { newId } from '@/shared/book/newId';

export function graphsOf(state: BookState, waiting: readonly Waiting[]): Schemas['Graph'][] {
  if (!waiting.some((w) => w.edit.type === 'place_graph')) return state.document.graphs;
  return state.document.graphs.map((graph) => {
    let now = graph;
    for (const { edit } of waiting) if (edit.type === 'place_graph' && edit.graph === graph.id) now = { ...now, ...edit };
    return now;
  });
}

export function fitsOf(state: BookState, waiting: readonly Waiting[]): Schemas['Fit'][] {
  if (!waiting.some((w) => w.edit.type === 'place_fit')) return state.document.fits;
  return state.document.fits.map((fit) => {
    let now = fit;
    for (const { edit } of waiting) if (edit.type === 'place_fit' && edit.fit === fit.id) now = { ...now, ...edit };
    return now;
  });
}

/** The edit that places a graph as it is, but for some parts of it. */
export function placeGraph(graph: Schemas['Graph'], part: Partial<Schemas['Graph']>): Schemas['PlaceGraph'] {
  const { x, y, origin, x_low, x_high, y_low, y_high, also, runs, hidden, notes } = { ...graph, ...part };
  return {
    type: 'place_graph',
    graph: graph.id,
    x,
    y,
    origin,
    x_low,
    x_high,
    y_low,
    y_high,
    also: [...also],
    runs: [...runs],
    hidden: [...hidden],
    notes: notes.map((n) => ({ ...n })),
  };
}

/** What is chosen of a fit, but for some parts of it. */
export function choiceOf(fit: Schemas['Fit'], part: Partial<Schemas['Fit']>): Schemas['FitChoice'] {
  const {
    weights,
    through_origin,
    shape,
    formula,
    parameters,
    low,
    high,
    by_eye,
    steepest_by_eye,
    shallowest_by_eye,
    show_extremes,
    run,
    y,
    expected,
    unknowns,
  } = {
    ...fit,
    ...part,
  };
  const lists = { parameters: [...parameters], unknowns: unknowns.map((u) => ({ ...u, readings: [...u.readings] })) };
  return {
    weights,
    through_origin,
    shape,
    formula,
    low,
    high,
    by_eye,
    steepest_by_eye,
    shallowest_by_eye,
    show_extremes,
    run,
    y,
    expected,
    ...lists,
  };
}

/** The edit that places a fit as it is, but for some parts of it. */
export function placeFit(fit: Schemas['Fit'], part: Partial<Schemas['Fit']>): Schemas['PlaceFit'] {
  return { type: 'place_fit', fit: fit.id, ...choiceOf(fit, part) };
}

/** The edit that pins a note to something on a graph. */
export function pinNote(graph: Schemas['Graph'], text: string, to: Pick<Schemas['Note'], 'anchor'> & Partial<Schemas['Note']>): Schemas['PlaceGraph'] {
  const note = { of: '', x: 0, x_high: null, right: 0.06, up: 0.14, ...to, id: newId('n'), text };
  return placeGraph(graph, { notes: [...graph.notes, note] });
}
