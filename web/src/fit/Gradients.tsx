// The gradients of all lines on a graph, each against the first.
import { useQuery } from '@tanstack/react-query';
import { client, get } from '@/shared/api/client';
import { useBook, useSlopeWord } from '@/shared/book/context';
import { NumberLine } from '@/shared/graph/NumberLine';
import { told } from '@/shared/ui/told';

export function Gradients({ graph }: { graph: string }) {
  const word = useSlopeWord();
  const { state, run } = useBook(({ state, run }) => ({ state, run }));
  const found = useQuery({
    queryKey: ['gradients', state.id, state.revision, run, graph],
    queryFn: () => get(client.GET('/api/books/{book_id}/gradients', { params: { path: { book_id: state.id }, query: { graph, run } } })),
    placeholderData: (before) => before,
    retry: false,
  });
  const side = found.data;
  if (!side || side.rows.length < 2) return null;
  return (
    <section className="card fit-gradients" aria-label={`${word}s compared`}>
      <h2>The {word}s beside each other</h2>
      {side.number_line && (
        <NumberLine
          line={side.number_line}
          marks={side.number_line.marks.map((m, i) => ({ ...m, look: side.rows[i]?.look ?? 0, note: side.rows[i]?.value?.text ?? '' }))}
        />
      )}
      {side.rows.map((r) => (
        <p key={r.key}>
          {r.name}: <b>{r.value?.text}</b> <span className="quiet">{told(r.words)}</span>
        </p>
      ))}
    </section>
  );
}
