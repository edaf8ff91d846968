// What a quantity holds: numbers, with which everything works, or words, with which nothing is calculated.
import type { Analysis, Quantity } from '@/shared/api/client';

export const isWorded = (q: Pick<Quantity, 'holds'> | undefined) => q?.holds === 'words';

/** What is written down in a table, numbers and words. */
export const readIn = (quantities: readonly Quantity[]) => quantities.filter((q) => q.kind === 'changed' || q.kind === 'measured');

/** The unit of a quantity in the run that is looked at; empty where it has none or is not there. */
export const unitIn = (analysis: Analysis, quantity: string) => analysis.runs[0]?.columns.find((c) => c.quantity === quantity)?.unit ?? '';

/** What differs from setting to setting and is a number. */
export const varyingIn = (quantities: readonly Quantity[]) => quantities.filter((q) => q.kind !== 'constant' && !isWorded(q));

/** What can stand along an axis: numbers, and kinds along x. */
export const drawableIn = (quantities: readonly Quantity[]) => quantities.filter((q) => q.kind !== 'constant' && (!isWorded(q) || q.kind === 'changed'));

/** What was measured as a number, the first of it where one is enough. */
export const measuredIn = (quantities: readonly Quantity[]) => quantities.filter((q) => q.kind === 'measured' && !isWorded(q));

/** What a page of readings is asked for by its address: the quantity whose definition is to be open. */
export const DEFINED = 'quantity';

/** Where the definition of a quantity is written. */
export const definitionOf = (book: number, quantity: string) => `/books/${book}/read?${DEFINED}=${encodeURIComponent(quantity)}`;
