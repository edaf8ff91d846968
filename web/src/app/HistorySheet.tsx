// Every change, with who and when; any moment can be looked at, and a run brought back as it stood then.
import { useQuery } from '@tanstack/react-query';
import { Button } from 'antd';
import { useState } from 'react';
import { type Schemas, client, get } from '@/shared/api/client';
import { useBook, useBookStore } from '@/shared/book/context';
import { Rich } from '@/shared/ui/Rich';
import { Sheet } from '@/shared/ui/Sheet';

type Entry = Schemas['HistoryEntry'];

const when = (at: string) => new Date(at).toLocaleString('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' });

export function HistorySheet({ cell, onClose }: { cell: string; onClose: () => void }) {
  const { state, quantities } = useBook();
  const [setting = '', quantity = '', repeat = '0'] = cell.split(':');
  const [looking, setLooking] = useState<Entry | null>(null);
  const history = useQuery({
    queryKey: ['history', state.id, state.revision, cell],
    queryFn: () => get(client.GET('/api/books/{book_id}/history', { params: { path: { book_id: state.id }, query: { setting, quantity, repeat: Number(repeat) } } })),
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

function Past({ entry, onClose }: { entry: Entry; onClose: () => void }) {
  const { state, run, analysis } = useBook();
  const store = useBookStore();
  const past = useQuery({
    queryKey: ['past', state.id, entry.revision],
    queryFn: () => get(client.GET('/api/books/{book_id}/at/{revision}', { params: { path: { book_id: state.id, revision: entry.revision } } })),
    staleTime: Infinity,
  });
  if (past.isError) return <p className="notice">{past.error.message}</p>;
  if (!past.data) return <p className="quiet">Turning back …</p>;
  const document = past.data.document;
  const then = document.runs.find((r) => r.id === run);
  const now = state.document.runs.find((r) => r.id === run);
  const columns = document.quantities.filter((q) => q.kind === 'changed' || q.kind === 'measured');
  const columnOf = (id: string) => analysis.runs[0]?.columns.find((c) => c.quantity === id);
  const unitOf = (id: string) => columnOf(id)?.unit;
  const before = (id: string) => now?.settings.find((s) => s.id === id);
  const same = JSON.stringify(then?.settings) === JSON.stringify(now?.settings);
  return (
    <section className="past-table" aria-label={`As it stood at ${when(entry.at)}`}>
      <div className="row spread">
        <h3>
          {then?.name ?? 'This run'} after {entry.author}’s change of {when(entry.at)}
        </h3>
        {state.can_edit && then && !same && (
          <Button
            size="small"
            onClick={() => {
              store.edit({ type: 'fill_run', run, settings: then.settings.map((s) => ({ ...s })), words: `put back as it stood at ${when(entry.at)}` }, 'The run stands again as it did then.');
              onClose();
            }}
          >
            Bring the run back to this
          </Button>
        )}
      </div>
      {!then ? (
        <p className="notice">This run was not in the lab book then.</p>
      ) : (
        <table>
          <thead>
            <tr>
              {columns.map((q) => (
                <th key={q.id} scope="col" colSpan={q.repeats}>
                  <Rich text={columnOf(q.id)?.symbol ?? [{ text: q.symbol, style: 'italic' }]} />
                  {unitOf(q.id) ? ` / ${unitOf(q.id)}` : ''}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {then.settings.map((s) => (
              <tr key={s.id} className={s.set_aside ? 'set-aside' : undefined}>
                {columns.flatMap((q) =>
                  Array.from({ length: q.repeats }, (_, i) => {
                    const text = s.readings?.[q.id]?.[i]?.text ?? '';
                    const today = before(s.id)?.readings?.[q.id]?.[i]?.text ?? '';
                    return (
                      <td key={`${q.id}${i}`} className={`mono${text !== today ? ' other-now' : ''}`} title={text !== today ? `now: ${today || 'blank'}` : undefined}>
                        {text || '·'}
                      </td>
                    );
                  }),
                )}
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {!same && <p className="quiet">Shaded: it reads otherwise now.</p>}
    </section>
  );
}
