// The notes of a graph, to be reworded or taken away.
import { Button, Input } from 'antd';
import type { Schemas } from '@/shared/api/client';
import { placeGraph } from '@/shared/book/choices';
import { useBookStore } from '@/shared/book/context';

export function NoteList({ graph }: { graph: Schemas['Graph'] }) {
  const store = useBookStore();
  if (graph.notes.length === 0) return null;
  const write = (notes: Schemas['Graph']['notes'], undoable = '') => store.edit(placeGraph(graph, { notes }), undoable);
  return (
    <ul className="look-notes" aria-label="Notes on this graph">
      {graph.notes.map((n) => (
        <li key={`${n.id} ${n.text}`} className="row">
          <Input
            size="small"
            aria-label="Note"
            defaultValue={n.text}
            maxLength={300}
            className="field-wide"
            onPressEnter={(e) => e.currentTarget.blur()}
            onBlur={(e) => {
              const text = e.target.value.trim();
              if (text && text !== n.text) write(graph.notes.map((o) => (o.id === n.id ? { ...o, text } : o)));
            }}
          />
          <Button
            size="small"
            type="text"
            danger
            onClick={() =>
              write(
                graph.notes.filter((o) => o.id !== n.id),
                'The note was taken away.',
              )
            }
          >
            Take away
          </Button>
        </li>
      ))}
    </ul>
  );
}
