// Which points pull the line most: how far the gradient moves when each is left out.
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { client, get } from '@/shared/api/client';
import { useBook } from '@/shared/book/context';
import { TroubleWords } from '@/shared/ui/TroubleWords';
import { Typeset } from '@/shared/ui/Typeset';

const MOST = 4;

export function Pulls({ fit, onChoose }: { fit: string; onChoose: (key: string) => void }) {
  const { state, run } = useBook(({ state, run }) => ({ state, run }));
  const [open, setOpen] = useState(false);
  const pulls = useQuery({
    queryKey: ['pulls', state.id, state.revision, run, fit],
    queryFn: () => get(client.GET('/api/books/{book_id}/pulls', { params: { path: { book_id: state.id }, query: { fit, run } } })),
    enabled: open,
    placeholderData: (before) => before,
    retry: false,
  });
  return (
    <details className="line-ways" onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary>Which points pull the line most?</summary>
      <TroubleWords beside>{pulls.error?.message}</TroubleWords>
      {pulls.data?.slice(0, MOST).map((p) => (
        <p key={p.key}>
          <button type="button" className="number-link" onClick={() => onChoose(p.key)}>
            <Typeset text={p.name} />
          </button>{' '}
          <span className="quiet">
            without it {p.gradient.text}: the gradient moves by {p.pull} of its ±
          </span>
        </p>
      ))}
    </details>
  );
}
