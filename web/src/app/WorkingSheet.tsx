// How a number came about: formula, numbers put in, budget, and the readings behind it, each leading back to its cell.
import { useQuery } from '@tanstack/react-query';
import { Button } from 'antd';
import { client, get } from '@/shared/api/client';
import { useBook, useBookStore } from '@/shared/book/context';
import { cellKey } from '@/shared/book/rows';
import { Budget } from '@/shared/ui/Budget';
import { Maths } from '@/shared/ui/Maths';
import { Sheet } from '@/shared/ui/Sheet';
import { told } from '@/shared/ui/told';
import { TroubleWords } from '@/shared/ui/TroubleWords';
import { Typeset } from '@/shared/ui/Typeset';

export function WorkingSheet({ of, onMove, onClose }: { of: string; onMove: (of: string) => void; onClose: () => void }) {
  const { state, run } = useBook(({ state, run }) => ({ state, run }));
  const store = useBookStore();
  const working = useQuery({
    queryKey: ['working', state.id, state.revision, of, run],
    queryFn: () => get(client.GET('/api/books/{book_id}/working', { params: { path: { book_id: state.id }, query: { of, run } } })),
    placeholderData: (before) => before,
  });
  const w = working.data;
  if (working.isError)
    return (
      <Sheet title="Working" onClose={onClose}>
        <TroubleWords>{working.error.message}</TroubleWords>
      </Sheet>
    );
  if (!w) return null;
  return (
    <Sheet
      title={
        <>
          <Typeset text={w.title} />:{' '}
          <span className="mono">
            <Typeset text={w.result} />
          </span>
        </>
      }
      onClose={onClose}
    >
      <div className="working">
        <div>
          {w.lines.map((line, i) => (
            <div key={i} className="working-line">
              {line.words.length > 0 && (
                <p>
                  <Typeset text={told(line.words)} />
                </p>
              )}
              {line.tex && <Maths tex={line.tex} block />}
            </div>
          ))}
        </div>
        <div className="stack">
          {w.budget.length > 0 && (
            <div>
              <h3>What makes the uncertainty</h3>
              <Budget bars={w.budget} />
            </div>
          )}
          {w.onward.length > 0 && (
            <div>
              <h3>It rests on</h3>
              <div className="row">
                {w.onward.map(({ words, target }) => (
                  <Button key={target + words} size="small" onClick={() => onMove(target)}>
                    <Typeset text={words} />
                  </Button>
                ))}
              </div>
            </div>
          )}
          {w.readings.length > 0 && (
            <div>
              <h3>The readings behind it</h3>
              <div className="readings-behind">
                {w.readings.map((r) => (
                  <button
                    key={`${r.setting}:${r.quantity}:${r.repeat}`}
                    type="button"
                    className={r.set_aside ? 'aside' : ''}
                    onClick={() => {
                      onClose();
                      store.goTo(cellKey(r.setting, r.quantity, r.repeat));
                    }}
                  >
                    {r.text}
                  </button>
                ))}
              </div>
            </div>
          )}
        </div>
      </div>
    </Sheet>
  );
}
