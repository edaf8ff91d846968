// What a remark can be about at a station, and what that is called.
import type { BookState, Quantity, Schemas, StageName } from '@/shared/api/client';
import { nameOfSetting } from '@/shared/book/rows';

export type RemarkPlace = Schemas['RemarkPlace'];

interface Named {
  place: RemarkPlace;
  words: string;
}

const of = (kind: RemarkPlace['kind'], item: string): RemarkPlace => ({ kind, item, run: '', quantity: '', repeat: 0 });

/** The reading of a cell (setting:quantity:repeat); null for what is none. */
export function readingAt(cell: string, run: string): RemarkPlace | null {
  const [item, quantity, repeat, ...more] = cell.split(':');
  if (!item || !quantity || !repeat || more.length > 0 || !/^\d+$/.test(repeat)) return null;
  return { kind: 'reading', item, run, quantity, repeat: Number(repeat) };
}

/** A place in words; empty for what is no longer there. */
export function nameOfPlace(place: RemarkPlace, { document }: Pick<BookState, 'document'>, symbolOf: (quantity: string) => string): string {
  const axes = (graph: Schemas['Graph'] | undefined, y = '') => (graph ? `${symbolOf(y || graph.y)} against ${symbolOf(graph.x)}` : '');
  switch (place.kind) {
    case 'reading':
    case 'setting': {
      const run = document.runs.find((r) => r.id === place.run);
      const row = (run?.settings ?? []).findIndex((s) => s.id === place.item);
      if (!run || row < 0) return '';
      const first: Quantity | undefined = run.headings
        ? document.quantities.find((q) => q.id === run.headings?.[0])
        : document.quantities.find((q) => q.kind === 'changed' || q.kind === 'measured');
      const setting =
        nameOfSetting(run.settings[row]?.readings, first, first ? symbolOf(first.id) : '', document.convention.decimal_mark) || `setting ${row + 1}`;
      if (place.kind === 'setting' || place.quantity === first?.id) return setting;
      return `${symbolOf(place.quantity)} at ${setting}, repeat ${place.repeat + 1}`;
    }
    case 'quantity':
      return document.quantities.find((q) => q.id === place.item)?.name ?? '';
    case 'graph':
      return axes(document.graphs.find((g) => g.id === place.item));
    case 'fit': {
      const fit = document.fits.find((f) => f.id === place.item);
      return fit
        ? `the fit of ${axes(
            document.graphs.find((g) => g.id === fit.graph),
            fit.y,
          )}`
        : '';
    }
    case 'finding':
      return document.findings.find((f) => f.id === place.item)?.name ?? '';
    case 'section':
      return [...document.plan.sections, ...document.report.sections].find((s) => s.id === place.item)?.title ?? '';
  }
}

/** Whether what a remark is about is still as it was: of a reading as it stands here, of anything else as the server said last. */
export function standsNow({ place, stands, was }: Pick<Schemas['RemarkOut'], 'place' | 'stands' | 'was'>, { document }: Pick<BookState, 'document'>) {
  if (place?.kind !== 'reading') return stands;
  const setting = document.runs.find((r) => r.id === place.run)?.settings.find((s) => s.id === place.item);
  if (!setting) return 'gone';
  return (setting.readings?.[place.quantity]?.[place.repeat]?.text ?? '') === was ? '' : 'changed';
}

/** What there is at a station that a remark can be about; at Read the reading that somebody was in. */
export function placesAt(stage: StageName, state: Pick<BookState, 'document'>, near: RemarkPlace | null, symbolOf: (quantity: string) => string): Named[] {
  const { document } = state;
  const found: RemarkPlace[] = [];
  if (stage === 'read' && near) found.push(near);
  if (stage === 'average') found.push(...document.quantities.filter((q) => q.kind === 'derived').map((q) => of('quantity', q.id)));
  if (stage === 'look' || stage === 'straighten') found.push(...document.graphs.map((g) => of('graph', g.id)));
  if (stage === 'fit') found.push(...document.fits.map((f) => of('fit', f.id)));
  if (stage === 'find') found.push(...document.findings.map((f) => of('finding', f.id)));
  if (stage === 'report') found.push(...[...document.plan.sections, ...document.report.sections].map((s) => of('section', s.id)));
  return found.map((place) => ({ place, words: nameOfPlace(place, state, symbolOf) })).filter((named) => named.words);
}

/** How far a remark is: the bench has answered where it says done, or had the last word. */
export const stateOf = (remark: Pick<Schemas['RemarkOut'], 'settled' | 'done' | 'replies'>): 'settled' | 'answered' | 'open' =>
  remark.settled ? 'settled' : remark.done || remark.replies.at(-1)?.by_teacher === false ? 'answered' : 'open';
