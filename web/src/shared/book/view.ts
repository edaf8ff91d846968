// What the server sends of a lab book: the whole, or what has changed since what is here.
import { type BookState, type Schemas, client, get } from '@/shared/api/client';

export type BookWork = Pick<BookState, 'document' | 'analysis' | 'relation_tex' | 'run_order' | 'complete'>;
type Change = Schemas['ViewChange'];

/** What is asked of a view: with `place` also what a poll would say. */
interface ViewQuery {
  run: string;
  have: string;
  steps: boolean;
  table: boolean;
  place: string | undefined;
}

export function askView(book: number, query: ViewQuery): Promise<Schemas['ViewAnswer']> {
  return get(client.GET('/api/books/{book_id}/view', { params: { path: { book_id: book }, query } }));
}

/** The lab book with changes laid over it. What has not changed stays the same object, so that it is not drawn anew. */
export function layOver<T>(work: T, changes: readonly Change[]): T {
  const copied = new Set<object>();
  const own = (value: unknown): Record<string | number, unknown> => {
    if (typeof value !== 'object' || value === null) throw new Error('A change is at a place that is not there.');
    if (copied.has(value)) return value as Record<string, unknown>;
    const copy = (Array.isArray(value) ? [...(value as unknown[])] : { ...value }) as Record<string | number, unknown>;
    copied.add(copy);
    return copy;
  };
  let whole: unknown = work;
  for (const { at, becomes } of changes) {
    const last = at.at(-1);
    if (last === undefined) {
      whole = becomes;
      continue;
    }
    let place = own(whole);
    whole = place;
    for (const step of at.slice(0, -1)) {
      const next = own(place[step]);
      place[step] = next;
      place = next;
    }
    place[last] = becomes;
  }
  return whole as T;
}
