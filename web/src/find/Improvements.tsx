// What would help most: the finding as it would be with more repeats, a finer instrument, a longer range, a constant known better.
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { client, get } from '@/shared/api/client';
import { useBook } from '@/shared/book/context';
import { told } from '@/shared/ui/told';
import { TroubleWords } from '@/shared/ui/TroubleWords';
import { Typeset } from '@/shared/ui/Typeset';

const MOST = 6;

export function Improvements({ finding }: { finding: string }) {
  const { state, run } = useBook(({ state, run }) => ({ state, run }));
  const [open, setOpen] = useState(false);
  const found = useQuery({
    queryKey: ['improvements', state.id, state.revision, run, finding],
    queryFn: () => get(client.GET('/api/books/{book_id}/improvements', { params: { path: { book_id: state.id }, query: { finding, run } } })),
    enabled: open,
    placeholderData: (before) => before,
    retry: false,
  });
  return (
    <details className="find-help" onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary>What would help most?</summary>
      <TroubleWords beside>{found.error?.message}</TroubleWords>
      {found.data?.length === 0 && <p className="quiet">Nothing that is measured here would make the ± much smaller.</p>}
      <ol>
        {found.data?.slice(0, MOST).map((i) => (
          <li key={told(i.words)}>
            <span>
              <Typeset text={told(i.words)} />
            </span>
            <span className="find-gain">
              ± {i.value.u_text} <b>{i.gain_text}</b>
            </span>
          </li>
        ))}
      </ol>
    </details>
  );
}
