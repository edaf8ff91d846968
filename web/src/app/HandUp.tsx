// A hand up for the teacher: raised and lowered by anybody of the bench, lowered by the teacher too.
import { useState } from 'react';
import { client, get } from '@/shared/api/client';
import { useBook } from '@/shared/book/context';

export function HandUp() {
  const state = useBook(({ state }) => state);
  // until there is news of the lab book, which then says how it is
  const [asked, setAsked] = useState<{ up: boolean; news: number } | null>(null);
  const [lost, setLost] = useState(false);
  if (state.practical === null || !state.can_edit) return null;
  const up = asked?.news === state.news ? asked.up : state.hand_up;
  const turn = () => {
    setAsked({ up: !up, news: state.news });
    setLost(false);
    get(client.POST('/api/books/{book_id}/hand', { params: { path: { book_id: state.id } }, body: { up: !up } })).catch(() => {
      setAsked(null);
      setLost(true);
    });
  };
  return (
    <button
      type="button"
      className={`hand-up${up ? ' up' : ''}`}
      aria-pressed={up}
      title={up ? 'Your teacher sees it. Press to take it down.' : 'Ask your teacher to come'}
      onClick={turn}
    >
      {lost ? 'Hand up: not sent, press again' : up ? 'Hand is up' : 'Hand up'}
    </button>
  );
}
