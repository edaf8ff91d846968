// Every change, with who and when; any moment can be looked at, and a run brought back as it stood then.
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { type Schemas, client, get } from '@/shared/api/client';
import { useBook } from '@/shared/book/context';
import { Sheet } from '@/shared/ui/Sheet';
import { Past } from './Past';
import { when } from '@/shared/ui/moments';

type Entry = Schemas['HistoryEntry'];

export function HistorySheet({ cell, onClose }: { cell: string; onClose: () => void }) {
  const { state, quantities } = useBook(({ state, quantities }) => ({ state, quantities }));
  const [setting = '', quantity = '', repeat = '0'] = cell.split(':');
  const [looking, setLooking] = useState<Entry | null>(null);
  const history = useQuery({
    queryKey: ['history', state.id, state.revision, cell],
    queryFn: () =>
      get(
        client.GET('/api/books/{book_id}/history', {
          params: { path: { book_id: state.id }, query: { setting, quantity, repeat: Number(repeat) } },
        }),
      ),
    placeholderData: (before) => before,
  });
  const name = quantities.find((q) => q.id === quantity)?.name;
  return (
    <Sheet title={cell ? `History of one reading${name ? `: ${name}` : ''}` : 'History'} onClose={onClose}>
      {history.data?.length === 0 && <p className="quiet">Nothing has been changed {cell ? 'here' : ''} since this lab book was made.</p>}
      <div className={looking ? 'past' : undefined}>
        <ul className={`history${looking ? ' narrow' : ''}`}>
          {history.data?.map((h) => (
            <li key={h.revision} className={h.revision === looking?.revision ? 'chosen' : undefined}>
              <button type="button" className="plain-button" onClick={() => setLooking(h)} title="Look at the lab book as it stood after this">
                <time dateTime={h.at}>{when(h.at)}</time>
                <b>{h.author}</b> · {h.words}
              </button>
            </li>
          ))}
        </ul>
        {looking && <Past key={looking.revision} entry={looking} onClose={onClose} />}
      </div>
    </Sheet>
  );
}
