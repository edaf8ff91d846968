// Every change, with who and when.
import { useQuery } from '@tanstack/react-query';
import { client, get } from '@/shared/api/client';
import { useBook } from '@/shared/book/context';
import { Sheet } from '@/shared/ui/Sheet';

export function HistorySheet({ onClose }: { onClose: () => void }) {
  const { state } = useBook();
  const history = useQuery({
    queryKey: ['history', state.id, state.revision],
    queryFn: () => get(client.GET('/api/books/{book_id}/history', { params: { path: { book_id: state.id } } })),
  });
  return (
    <Sheet title="History" onClose={onClose}>
      {history.data?.length === 0 && <p className="quiet">Nothing has been changed since this lab book was made.</p>}
      <ul className="history">
        {history.data?.map((h) => (
          <li key={h.revision}>
            <time dateTime={h.at}>
              {new Date(h.at).toLocaleString('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' })}
            </time>
            <b>{h.author}</b> · {h.words}
          </li>
        ))}
      </ul>
    </Sheet>
  );
}
