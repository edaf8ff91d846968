// Words that stand beside the points of a graph: a colour, a remark.
import type { Schemas } from '@/shared/api/client';
import { placeGraph } from '@/shared/book/choices';
import { useBook, useBookStore } from '@/shared/book/context';
import { isWorded } from '@/shared/book/quantities';
import { Labelled } from '@/shared/ui/Labelled';
import { SymbolSelect } from '@/shared/ui/SymbolSelect';

export function WordsBeside({ graph }: { graph: Schemas['Graph'] }) {
  const { state, quantities } = useBook(({ state, quantities }) => ({ state, quantities }));
  const store = useBookStore();
  const words = quantities.filter((q) => isWorded(q) && q.id !== graph.x);
  if (words.length === 0) return null;
  return (
    <Labelled words="words at the points" group>
      <SymbolSelect
        size="small"
        aria-label="Words that stand beside the points"
        value={graph.words_of}
        disabled={!state.can_edit}
        options={[{ value: '', label: 'none' }, ...words.map((q) => ({ value: q.id, label: q.name }))]}
        popupMatchSelectWidth={false}
        onChange={(words_of: string) => store.edit(placeGraph(graph, { words_of }))}
      />
    </Labelled>
  );
}
