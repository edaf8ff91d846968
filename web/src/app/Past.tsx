// A run as it once stood. What reads otherwise now is shaded; a reading, a setting or the whole run can be brought back to it.
import { useQuery } from '@tanstack/react-query';
import { Button } from 'antd';
import { type Edit, type Quantity, type Schemas, type Setting, client, get } from '@/shared/api/client';
import { useBook, useBookStore } from '@/shared/book/context';
import { Rich } from '@/shared/ui/Rich';
import { TroubleWords } from '@/shared/ui/TroubleWords';
import { when } from '@/shared/ui/moments';

type SingleEdit = Schemas['Batch']['edits'][number];

export function Past({ entry, onClose }: { entry: Schemas['HistoryEntry']; onClose: () => void }) {
  const { state, run, analysis, symbolOf } = useBook(({ state, run, analysis, symbolOf }) => ({ state, run, analysis, symbolOf }));
  const store = useBookStore();
  const past = useQuery({
    queryKey: ['past', state.id, entry.revision],
    queryFn: () => get(client.GET('/api/books/{book_id}/at/{revision}', { params: { path: { book_id: state.id, revision: entry.revision } } })),
    staleTime: Infinity,
  });
  if (past.isError) return <TroubleWords>{past.error.message}</TroubleWords>;
  if (!past.data) return <p className="quiet">Turning back …</p>;
  const document = past.data.document;
  const then = document.runs.find((r) => r.id === run);
  const now = state.document.runs.find((r) => r.id === run);
  const columns = document.quantities.filter((q) => q.kind === 'changed' || q.kind === 'measured');
  const unitOf = (id: string) => analysis.runs[0]?.columns.find((c) => c.quantity === id)?.unit;
  const today = new Map(now?.settings.map((s) => [s.id, s]));
  const same = JSON.stringify([then?.settings, then?.log]) === JSON.stringify([now?.settings, now?.log]);
  const bringBack = (edit: Edit | null, words: string) => {
    if (edit) store.edit(edit, words);
  };
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
              bringBack(
                {
                  type: 'fill_run',
                  run,
                  settings: then.settings.map(whole),
                  log: then.log ? { kept: then.log.kept, rows: then.log.rows, units: then.log.units ?? {}, aside: then.log.aside } : null,
                  words: `put back as it stood at ${when(entry.at)}`,
                },
                'The run stands again as it did then.',
              );
              onClose();
            }}
          >
            Bring the run back to this
          </Button>
        )}
      </div>
      {!then ? (
        <p className="notice">This run was not in the lab book then.</p>
      ) : then.log ? (
        <p>
          A logger wrote {then.log.rows} rows; they were the same then.
          {then.log.aside.map((part) => ` Rows ${part.first + 1} to ${part.last + 1} were set aside: ${part.reason}.`)}
        </p>
      ) : (
        <table>
          <thead>
            <tr>
              {columns.map((q) => (
                <th key={q.id} scope="col" colSpan={q.repeats}>
                  <Rich text={symbolOf(q.id)} />
                  {unitOf(q.id) ? ` / ${unitOf(q.id)}` : ''}
                </th>
              ))}
              <th aria-label="What can be brought back" />
            </tr>
          </thead>
          <tbody>
            {then.settings.map((s, place) => {
              const edits = differences(run, columns, s, today.get(s.id), place);
              return (
                <tr key={s.id} className={s.set_aside ? 'set-aside' : undefined}>
                  {columns.flatMap((q) =>
                    Array.from({ length: q.repeats }, (_, i) => {
                      const text = textAt(s, q.id, i);
                      const otherwise = textAt(today.get(s.id), q.id, i);
                      const edit = edits.find((e) => e.type === 'set_reading' && e.quantity === q.id && e.repeat === i);
                      return (
                        <td
                          key={`${q.id}${i}`}
                          className={`mono${text !== otherwise ? ' other-now' : ''}`}
                          title={text !== otherwise ? `now: ${otherwise || 'blank'}` : undefined}
                        >
                          {edit && state.can_edit ? (
                            <button
                              type="button"
                              className="past-cell"
                              aria-label={`Bring ${text || 'the blank'} back, in place of ${otherwise || 'a blank'}`}
                              onClick={() => bringBack(edit, `${text || 'A blank'} was brought back.`)}
                            >
                              {text || '·'}
                            </button>
                          ) : (
                            text || '·'
                          )}
                        </td>
                      );
                    }),
                  )}
                  <td>
                    {edits.length > 0 && state.can_edit && (
                      <Button
                        size="small"
                        type="text"
                        onClick={() =>
                          bringBack(
                            { type: 'batch', words: `brought setting ${place + 1} back as it stood at ${when(entry.at)}`, edits },
                            `Setting ${place + 1} was brought back.`,
                          )
                        }
                      >
                        bring back
                      </Button>
                    )}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      )}
      {!same && <p className="quiet">Shaded: it reads otherwise now. Press a shaded reading to bring just that one back.</p>}
    </section>
  );
}

function textAt(setting: Setting | undefined, quantity: string, repeat: number): string {
  return setting?.readings?.[quantity]?.[repeat]?.text ?? '';
}

const whole = (setting: Setting): Schemas['SettingIn'] => ({
  id: setting.id,
  readings: setting.readings ?? {},
  set_aside: setting.set_aside ?? null,
  of_run: setting.of_run,
});

/** The edits that make a setting what it was: put in again where it is gone, else each reading that differs, and whether it counts. */
function differences(run: string, columns: Quantity[], then: Setting, now: Setting | undefined, place: number): SingleEdit[] {
  if (!now)
    return [
      {
        type: 'add_setting',
        run,
        setting: then.id,
        at: place,
        content: whole(then),
      },
    ];
  const edits: SingleEdit[] = columns.flatMap((q) =>
    Array.from({ length: q.repeats }, (_, repeat) => {
      const [old, current] = [then.readings?.[q.id]?.[repeat], now.readings?.[q.id]?.[repeat]];
      const [text, was] = [old?.text ?? '', current?.text ?? ''];
      const reason = old?.set_aside ?? null;
      if (text === was && reason === (current?.set_aside ?? null)) return null;
      return { type: 'set_reading' as const, run, setting: then.id, quantity: q.id, repeat, text, was, set_aside: reason };
    }).filter((e) => e !== null),
  );
  const reason = then.set_aside ?? null;
  if (reason !== (now.set_aside ?? null)) edits.push({ type: 'set_aside', run, setting: then.id, quantity: null, repeat: null, reason });
  return edits;
}
