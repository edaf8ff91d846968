// What the logger has written, and keeping it as a run of the lab book.
import { useState } from 'react';
import { v4 as newUuid } from 'uuid';
import { type Schemas, client, get } from '@/shared/api/client';
import { useBook, useBookStore } from '@/shared/book/context';
import type { Sitting } from './sitting';
import { Strip } from './Strip';

/** The key that keeps what was recorded. */
export const KEEP = 'k';

interface Props {
  record: Schemas['RecordLook'];
  elapsed: () => number;
  onKeep: (() => void) | null;
  busy: boolean;
}

export function RecordBar({ record, elapsed, onKeep, busy }: Props) {
  return (
    <div className="record">
      <Strip record={record} elapsed={elapsed} />
      <div className="record-words">
        <span className="quiet">
          {record.running ? `recording, ${record.rate} rows a second` : `${record.rows} rows in ${record.seconds.toFixed(1)} s`}
          {record.marks.length > 0 && '; the upright line is where its clock stands at 0'}
        </span>
        {onKeep && (
          <button type="button" className="face-write" disabled={record.running || busy} onClick={onKeep} aria-keyshortcuts={KEEP}>
            <span>
              Keep it in the lab book <kbd>{KEEP.toUpperCase()}</kbd>
            </span>
          </button>
        )}
      </div>
    </div>
  );
}

/** Keep the last record; what comes of it is said. */
export function useKeepRecord(now: () => Sitting & { start: number }, say: (words: string) => void): { keep: () => void; busy: boolean } {
  const { id, run } = useBook(({ state, run }) => ({ id: state.id, run }));
  const store = useBookStore();
  const [busy, setBusy] = useState(false);
  const keep = () => {
    const { hand, acts, start } = now();
    setBusy(true);
    get(
      client.POST('/api/books/{book_id}/rig/record', { params: { path: { book_id: id } }, body: { client_id: newUuid(), run, hand, acts: [...acts], start } }),
    )
      .then(
        async (kept) => {
          await store.chooseRun(kept.run);
          say(`${kept.rows} rows are kept in the lab book.`);
        },
        (trouble: unknown) => say(trouble instanceof Error ? trouble.message : ''),
      )
      .finally(() => setBusy(false));
  };
  return { keep, busy };
}
