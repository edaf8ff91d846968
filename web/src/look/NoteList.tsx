// The notes of a graph, to be reworded or taken away.
import { Button, Input } from 'antd';
import type { Schemas } from '@/shared/api/client';
import { placeGraph } from '@/shared/book/choices';
import { useBookStore } from '@/shared/book/context';
import { useField } from '@/shared/ui/useTyped';

export function NoteList({ graph }: { graph: Schemas['Graph'] }) {
  const store = useBookStore();
  if (graph.notes.length === 0) return null;
  const write = (notes: Schemas['Graph']['notes'], undoable = '') => store.edit(placeGraph(graph, { notes }), undoable);
  return (
    <ul className="look-notes" aria-label="Notes on this graph">
      {graph.notes.map((n) => (
        <li key={n.id} className="row">
          <NoteText kept={n.text} onWrite={(text) => write(graph.notes.map((o) => (o.id === n.id ? { ...o, text } : o)))} />
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

function NoteText({ kept, onWrite }: { kept: string; onWrite: (text: string) => void }) {
  const field = useField(kept, onWrite, { needed: true });
  return <Input size="small" aria-label="Note" maxLength={300} className="field-wide" {...field} onPressEnter={(e) => e.currentTarget.blur()} />;
}
