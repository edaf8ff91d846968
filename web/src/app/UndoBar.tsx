// After something was taken away: say so, and offer it back for ten seconds. Refusals are shown here too.
import { useEffect } from 'react';
import type { Edit } from '@/shared/api/client';
import { useBook, useBookStore } from '@/shared/book/context';

const STAYS = 10_000;

export function UndoBar() {
  const { undoable, message, offers } = useBook(({ undoable, message, offers }) => ({ undoable, message, offers }));
  const store = useBookStore();
  useEffect(() => {
    if (!undoable) return;
    const timer = window.setTimeout(() => store.dismiss('undoable'), STAYS);
    return () => window.clearTimeout(timer);
  }, [store, undoable]);
  if (message)
    return (
      <div className={`undo-bar trouble${offers.length ? ' offering' : ''}`} role="alert">
        <p>{message}</p>
        {offers.map((offer) => (
          <button key={offer.words} type="button" onClick={() => store.edit(offer.edit as Edit)}>
            {offer.words}
          </button>
        ))}
        <button type="button" onClick={() => store.dismiss('message')}>
          Close
        </button>
      </div>
    );
  if (!undoable) return null;
  return (
    <div className="undo-bar" role="status">
      {undoable.words}
      <button type="button" onClick={() => void store.step('undo')}>
        Undo
      </button>
    </div>
  );
}
