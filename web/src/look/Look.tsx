// Look: the graphs, as points with their bars. Lines come later, in Fit.
import { useState } from 'react';
import type { Schemas } from '@/shared/api/client';
import { useBook, useBookStore } from '@/shared/book/context';
import { cellKey } from '@/shared/book/rows';
import { Graph } from '@/shared/graph/Graph';
import { AxisChooser } from '@/shared/ui/AxisChooser';
import './look.css';

export function Look() {
  const { state, analysis, graphs } = useBook();
  const [chosen, setChosen] = useState(graphs[0]?.id ?? '');
  const graph = graphs.find((g) => g.id === chosen) ?? graphs[0];
  const result = analysis.graphs.find((g) => g.graph === graph?.id);
  if (!graph) return <p className="notice">The plan of this practical has no graph.</p>;
  return (
    <>
      <div className="stage-head">
        <h1>Look at the points</h1>
        <AxisChooser graph={graph} />
      </div>
      <LookGraph result={result} />
      {graphs.length > 1 && (
        <div className="look-tiles" role="group" aria-label="Graphs of this lab book">
          {graphs.map((g) => {
            const other = analysis.graphs.find((r) => r.graph === g.id);
            return (
              <button key={g.id} type="button" className={g.id === graph.id ? 'chosen' : ''} aria-pressed={g.id === graph.id} onClick={() => setChosen(g.id)}>
                {other?.figure?.title ?? 'nothing to draw yet'}
              </button>
            );
          })}
        </div>
      )}
      <p>
        <a href={`/api/books/${state.id}/graphs/${graph.id}.svg`} download>
          Take the picture out (SVG)
        </a>
      </p>
    </>
  );
}

function LookGraph({ result }: { result: Schemas['GraphResult'] | undefined }) {
  const store = useBookStore();
  const { quantities } = useBook();
  const measured = quantities.find((q) => q.kind === 'measured')?.id ?? '';
  if (!result?.figure) return <p className="notice">{result?.trouble?.message ?? 'There is nothing to draw yet.'}</p>;
  const bare = { ...result.figure, lines: [], bands: [] };
  return (
    <div className="card look-card">
      <Graph figure={bare} residuals={false} height={440} onSelect={(key) => store.goTo(cellKey(key, measured, 0))} />
      {result.remarks.map((r) => (
        <p key={r} className="quiet look-remark">
          {r}
        </p>
      ))}
      <p className="quiet look-remark">Press a point to go to its readings. With the keyboard: Tab to the graph, then ← and →.</p>
    </div>
  );
}
