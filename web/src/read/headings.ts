// Headings that are on their way, or were refused: what stands in them, and why.
import type { Quantity } from '@/shared/api/client';
import type { Waiting } from '@/shared/book/snapshot';
import type { QueueRow } from '@/shared/queue/rows';

/** Whether a heading says that its numbers are means. */
export const isCalledMean = (text: string) => /(?:^|[^a-z])(?:mean|average|avg|ave|av)(?:$|[^a-z])/i.test(text);

export interface HeadingDraft {
  quantity: string;
  text: string;
  /** Why it was refused; empty while it is on its way. */
  trouble: string;
}

/** What is typed into headings and not in the lab book yet, newest last; one for each quantity. */
export function headingDrafts(run: string, waiting: readonly Waiting[], refused: readonly QueueRow[]): HeadingDraft[] {
  const found = new Map<string, HeadingDraft>();
  for (const { id, edit } of waiting)
    if (edit.type === 'write_heading' && edit.run === run)
      found.set(edit.quantity, { quantity: edit.quantity, text: edit.text, trouble: refused.find((r) => r.id === id)?.words ?? '' });
  return [...found.values()];
}

/** A quantity as a heading that reads back as it. */
export function headingOf({ name, symbol, unit, holds }: Pick<Quantity, 'name' | 'symbol' | 'unit' | 'holds'>): string {
  if (holds === 'words') return `${name} (words)`;
  const words = name === symbol ? symbol : `${name} ${symbol}`;
  return unit ? `${words} / ${unit}` : words;
}
