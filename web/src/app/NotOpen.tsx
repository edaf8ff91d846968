// What is said at a station that is not open yet, and above readings that have closed.
import type { BookState, StageName } from '@/shared/api/client';
import { useBook } from '@/shared/book/context';
import { stageNames } from '@/shared/ui/MiniTrail';
import { spokenDate } from '@/shared/ui/moments';
import { order } from './stages';

/** Whether a bench may not work at a station yet, and when it may: in words; empty where it is open. */
export function whyNotOpen(state: BookState, stage: StageName): string {
  if (state.practical === null || !state.can_edit) return '';
  const asksFirst = state.document.plan.ask_first && !(state.document.texts?.expectation ?? '').trim();
  const last = asksFirst ? 'ask' : (state.dates.open_to as StageName | '');
  if (!last || order.indexOf(stage) <= order.indexOf(last)) return '';
  return asksFirst ? `${stageNames[stage]} opens when you have written what you expect, at Ask.` : `${stageNames[stage]} opens when your teacher says so.`;
}

export function NotOpen({ words }: { words: string }) {
  return (
    <section className="station-trouble">
      <h1>Not open yet</h1>
      <p>{words}</p>
    </section>
  );
}

/** That readings close, or have; nothing where nothing is said of it. */
export function ClosingWords() {
  const { state } = useBook(({ state }) => ({ state }));
  const close = state.dates.readings_close;
  if (!close || !state.can_edit) return null;
  const closed = new Date(close) <= new Date();
  return (
    <p className={closed ? 'notice closing' : 'quiet closing'}>
      {closed ? `Readings closed on ${spokenDate(close)}. They can be set aside with a reason; all else goes on.` : `Readings close on ${spokenDate(close)}.`}
    </p>
  );
}
