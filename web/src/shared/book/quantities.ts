// What a quantity holds: numbers, with which everything works, or words, with which nothing is calculated.
import type { Quantity } from '@/shared/api/client';

export const isWorded = (q: Pick<Quantity, 'holds'> | undefined) => q?.holds === 'words';

/** What differs from setting to setting and is a number. */
export const varyingIn = (quantities: readonly Quantity[]) => quantities.filter((q) => q.kind !== 'constant' && !isWorded(q));

/** What can stand along an axis: numbers, and kinds along x. */
export const drawableIn = (quantities: readonly Quantity[]) => quantities.filter((q) => q.kind !== 'constant' && (!isWorded(q) || q.kind === 'changed'));

/** What was measured as a number, the first of it where one is enough. */
export const measuredIn = (quantities: readonly Quantity[]) => quantities.filter((q) => q.kind === 'measured' && !isWorded(q));
