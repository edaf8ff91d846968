// A graph's title, typed where it stands; without one it says what is drawn against what.
import { Input } from 'antd';
import { useState } from 'react';
import type { Schemas } from '@/shared/api/client';
import { placeGraph } from '@/shared/book/choices';
import { useBookStore } from '@/shared/book/context';
import { Typeset } from '@/shared/ui/Typeset';

interface Props {
  graph: Schemas['Graph'];
  shown: string;
  editable: boolean;
}

export function GraphTitle({ graph, shown, editable }: Props) {
  const store = useBookStore();
  const [draft, setDraft] = useState<string | null>(null);
  if (!editable)
    return (
      <h2 className="look-title">
        <Typeset text={shown} />
      </h2>
    );
  const keep = () => {
    const title = draft?.trim();
    if (title !== undefined && title !== graph.title) store.edit(placeGraph(graph, { title }));
    setDraft(null);
  };
  if (draft === null)
    return (
      <h2 className="look-title">
        <button type="button" title="Type a title" onClick={() => setDraft(graph.title)}>
          <Typeset text={shown} />
        </button>
      </h2>
    );
  return (
    <div className="look-title">
      <Input
        autoFocus
        aria-label="Title of the graph"
        size="small"
        value={draft}
        maxLength={120}
        placeholder={shown}
        onChange={(e) => setDraft(e.target.value)}
        onBlur={keep}
        onKeyDown={(e) => {
          if (e.key === 'Enter') keep();
          if (e.key === 'Escape') setDraft(null);
        }}
      />
    </div>
  );
}
