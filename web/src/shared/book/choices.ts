// Graphs and fits as they are chosen now: what the server has, with choices that are still on their way laid over it.
import type { BookState, Edit, Schemas } from '@/shared/api/client';
import type { Waiting } from './snapshot';
import { newId } from '@/shared/book/newId';

/** What is on its way, whether alone or among others of one act. */
const singly = (waiting: readonly Waiting[]): Edit[] => waiting.flatMap(({ edit }) => (edit.type === 'batch' ? edit.edits : [edit]));

const placedIn = (waiting: readonly Waiting[]) => singly(waiting).filter((edit) => edit.type === 'place_graph');

export function graphsOf(state: BookState, waiting: readonly Waiting[]): Schemas['Graph'][] {
  const placed = placedIn(waiting);
  if (!placed.length) return state.document.graphs;
  return state.document.graphs.map((graph) => {
    let now = graph;
    for (const edit of placed) if (edit.graph === graph.id) now = { ...now, ...edit.becomes };
    return now;
  });
}

/** Whether something chosen of a graph is on its way, so that what is drawn of it is not the answer yet. */
export function isBeingPlaced(graph: string, waiting: readonly Waiting[]): boolean {
  return placedIn(waiting).some((edit) => edit.graph === graph);
}

export function fitsOf(state: BookState, waiting: readonly Waiting[]): Schemas['Fit'][] {
  const placed = singly(waiting).filter((edit) => edit.type === 'place_fit');
  if (!placed.length) return state.document.fits;
  return state.document.fits.map((fit) => {
    let now = fit;
    for (const edit of placed) if (edit.fit === fit.id) now = { ...now, ...edit.becomes };
    return now;
  });
}

/** Fields by name with what they were and what they become: the server leaves all others as they are, and those that stay are not named. */
function changed<T extends object>(now: T, part: Partial<T>): { was: Partial<T>; becomes: Partial<T> } {
  const names = Object.keys(part) as (keyof T)[];
  const other = names.filter((name) => JSON.stringify(now[name]) !== JSON.stringify(part[name]));
  const of = (whole: Partial<T>) => Object.fromEntries((other.length ? other : names).map((name) => [name, whole[name]])) as Partial<T>;
  return { was: of(now), becomes: of(part) };
}

/** The edit that changes some fields of a graph. */
export function placeGraph(graph: Schemas['Graph'], part: Partial<Schemas['GraphPart']>): Schemas['PlaceGraph'] {
  return { type: 'place_graph', graph: graph.id, ...(changed(graph as Schemas['GraphPart'], part) as Pick<Schemas['PlaceGraph'], 'was' | 'becomes'>) };
}

/** A line through all points, with nothing beside it. */
export const plainLine: Schemas['FitChoice'] = {
  weights: 'both_bars',
  through_origin: false,
  shape: 'line',
  formula: '',
  parameters: [],
  low: null,
  high: null,
  by_eye: null,
  steepest_by_eye: null,
  shallowest_by_eye: null,
  show_extremes: false,
  hidden: false,
  show_equation: false,
  run: '',
  y: '',
  expected: '',
  unknowns: [],
  steps: { states: [], numbers: [], drawn: '', begins: '0', step: '', way: 'fourth' },
};

/** What is chosen of a fit, but for some parts of it. */
export function choiceOf(fit: Schemas['Fit'], part: Partial<Schemas['Fit']>): Schemas['FitChoice'] {
  const whole = { ...fit, ...part };
  return Object.fromEntries((Object.keys(plainLine) as (keyof Schemas['FitChoice'])[]).map((name) => [name, whole[name]])) as Schemas['FitChoice'];
}

/** The edit that changes some fields of a fit. */
export function placeFit(fit: Schemas['Fit'], part: Partial<Schemas['FitChoice']>): Schemas['PlaceFit'] {
  return { type: 'place_fit', fit: fit.id, ...(changed(fit as Schemas['FitChoice'], part) as Pick<Schemas['PlaceFit'], 'was' | 'becomes'>) };
}

/** The edit that changes some fields of a finding. */
export function changeFinding(finding: Schemas['Finding'], part: Partial<Schemas['FindingPart']>): Schemas['ChangeFinding'] {
  const fields = changed(finding as Schemas['FindingPart'], part) as Pick<Schemas['ChangeFinding'], 'was' | 'becomes'>;
  return { type: 'change_finding', finding: finding.id, ...fields };
}

/** The edit that changes some fields of a quantity; a new unit converts its readings or relabels them. */
export function changeQuantity(
  quantity: Schemas['Quantity'],
  readings: Schemas['ChangeQuantity']['readings'],
  part: Partial<Schemas['QuantityPart']>,
): Schemas['ChangeQuantity'] {
  const fields = changed(quantity as Schemas['QuantityPart'], part) as Pick<Schemas['ChangeQuantity'], 'was' | 'becomes'>;
  return { type: 'change_quantity', quantity: quantity.id, readings, ...fields };
}

/** The edit that pins a note to something on a graph. */
export function pinNote(graph: Schemas['Graph'], text: string, to: Pick<Schemas['Note'], 'anchor'> & Partial<Schemas['Note']>): Schemas['PlaceGraph'] {
  const note = { of: '', x: 0, x_high: null, right: 0.06, up: 0.14, ...to, id: newId('n'), text };
  return placeGraph(graph, { notes: [...graph.notes, note] });
}
