// A marked stretch: what its points say, fitting only there, or leaving it out with a reason.
import { useQuery } from '@tanstack/react-query';
import { Button, Input } from 'antd';
import { useState } from 'react';
import { client, get } from '@/shared/api/client';
import { useBook, useBookStore } from '@/shared/book/context';
import type { Stretch } from '@/shared/graph/MarkArea';

export function StretchBar({ graph, stretch, onFit, onClose }: { graph: string; stretch: Stretch; onFit: (() => void) | null; onClose: () => void }) {
  const { state, run } = useBook();
  const store = useBookStore();
  const [reason, setReason] = useState('');
  const { low, high } = stretch;
  const found = useQuery({
    queryKey: ['stretch', state.id, state.revision, run, graph, low, high],
    queryFn: () => get(client.GET('/api/books/{book_id}/stretch', { params: { path: { book_id: state.id }, query: { graph, low, high, run } } })),
    placeholderData: (before) => before,
    retry: false,
  });
  const log = state.document.runs.find((r) => r.id === run)?.log;
  const s = found.data;
  const setAside = () => {
    if (!s || !reason.trim()) return;
    const words = `${s.n} ${s.n === 1 ? 'point was' : 'points were'} set aside.`;
    const rows = s.keys.map((key) => Number(key.replace('row', '')));
    if (log) store.edit({ type: 'set_aside_rows', run, first: Math.min(...rows), last: Math.max(...rows), reason: reason.trim() }, words);
    else store.edit({ type: 'batch', words: `set aside ${s.n} settings: ${reason.trim()}`.slice(0, 200), edits: s.keys.map((setting) => ({ type: 'set_aside', run, setting, quantity: null, repeat: null, reason: reason.trim() })) }, words);
    onClose();
  };
  return (
    <section className="stretch-bar" aria-label="The marked stretch">
      {found.isError ? (
        <p>{found.error.message}</p>
      ) : s ? (
        <>
          <p>
            <b>
              {s.n} {s.n === 1 ? 'point' : 'points'}
            </b>{' '}
            at x = {s.x_range}: mean <b>{s.mean.text}</b>, {s.smallest} to {s.largest}
            {s.sd && `, half range ${s.half_range}, s = ${s.sd}`}
            {s.gradient && (
              <>
                ; their own line: gradient <b>{s.gradient.text}</b>
              </>
            )}
          </p>
          <form
            className="row"
            onSubmit={(e) => {
              e.preventDefault();
              setAside();
            }}
          >
            {onFit && (
              <Button size="small" onClick={onFit}>
                Fit only here
              </Button>
            )}
            {state.can_edit && (
              <>
                <Input size="small" aria-label="Why is this stretch left out?" value={reason} maxLength={300} placeholder="why it is left out" style={{ width: 220 }} onChange={(e) => setReason(e.target.value)} />
                <Button size="small" htmlType="submit" disabled={!reason.trim()}>
                  Set aside
                </Button>
              </>
            )}
            <Button size="small" type="text" onClick={onClose}>
              Unmark
            </Button>
          </form>
        </>
      ) : null}
    </section>
  );
}
