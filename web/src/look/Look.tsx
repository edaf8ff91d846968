// Look: the graphs, as points with their bars. One large or all beside each other; what is shown of them; for the room or the page.
import { Button, Checkbox, Segmented } from 'antd';
import { useState } from 'react';
import type { Schemas } from '@/shared/api/client';
import { useBook, useBookStore } from '@/shared/book/context';
import { RunNames } from '@/shared/book/RunNames';
import { newId } from '@/shared/book/newId';
import { usePins } from '@/shared/book/usePins';
import { measuredIn, unitIn, varyingIn } from '@/shared/book/quantities';
import { cellKey } from '@/shared/book/rows';
import { pinNote, placeGraph } from '@/shared/book/choices';
import { PlayedGraph } from '@/shared/graph/PlayedGraph';
import type { Stretch } from '@/shared/graph/MarkArea';
import { Steepest } from '@/shared/graph/Steepest';
import { StretchBar } from '@/shared/graph/StretchBar';
import { useGraphEdits } from '@/shared/graph/useGraphEdits';
import type { Range } from '@/shared/graph/useZoom';
import { AxisChooser } from '@/shared/ui/AxisChooser';
import { ChoiceLine } from '@/shared/ui/ChoiceLine';
import { NoteForm } from '@/shared/ui/NoteForm';
import { PictureLinks } from '@/shared/ui/PictureLinks';
import { Beside } from './Beside';
import { DrawnAs } from './DrawnAs';
import { GraphTitle } from './GraphTitle';
import { Moments } from './Moments';
import { NoteList } from './NoteList';
import { RangeFields } from './RangeFields';
import { WordsBeside } from './WordsBeside';
import './look.css';
import { Typeset } from '@/shared/ui/Typeset';

type View = 'one' | 'all';

export function Look() {
  const { state, analysis, graphs, fits, plainSymbolOf } = useBook(({ state, analysis, graphs, fits, plainSymbolOf }) => ({
    state,
    analysis,
    graphs,
    fits,
    plainSymbolOf,
  }));
  const store = useBookStore();
  const [chosen, setChosen] = useState(graphs[0]?.id ?? '');
  const [view, setView] = useState<View>('one');
  const [projector, setProjector] = useState(false);
  const [rules, setRules] = useState(true);
  const graph = graphs.find((g) => g.id === chosen) ?? graphs[0];
  if (!graph) return <NoGraph />;
  const resultOf = (id: string) => analysis.graphs.find((g) => g.graph === id);
  const add = () => {
    const id = newId('g');
    store.edit({ type: 'add_graph', graph: id, x: graph.x, y: graph.y });
    setChosen(id);
  };
  const unit = unitIn(analysis, graph.x);
  const fitted = fits.some((f) => f.graph === graph.id);
  const shown = view === 'one' ? [graph] : graphs;
  return (
    <div className={`look${projector ? ' projector' : ''}${rules ? '' : ' without-rules'}`}>
      <ChoiceLine
        title="Look at the points"
        words={[
          `${plainSymbolOf(graph.y)} against ${plainSymbolOf(graph.x)}`,
          graph.origin && 'with the origin',
          (graph.runs.length > 0 || graph.also.length > 0) && 'others beside it',
          (graph.x_low ?? graph.x_high ?? graph.y_low ?? graph.y_high ?? null) !== null && 'a range of its own',
        ]}
        beside={
          <>
            {graphs.length > 1 && (
              <Segmented<View>
                size="small"
                aria-label="How many graphs are seen"
                value={view}
                onChange={setView}
                options={[
                  { value: 'one', label: 'one large' },
                  { value: 'all', label: 'all beside each other' },
                ]}
              />
            )}
            <RunNames />
          </>
        }
      >
        <AxisChooser graph={graph} />
        <div className="row look-tools">
          <Checkbox checked={rules} onChange={(e) => setRules(e.target.checked)}>
            ruled
          </Checkbox>
          <Checkbox checked={projector} onChange={(e) => setProjector(e.target.checked)}>
            large, for the room
          </Checkbox>
          <DrawnAs graph={graph} figure={resultOf(graph.id)?.figure} />
          <Beside graph={graph} />
          <WordsBeside graph={graph} />
          {state.can_edit && (
            <Button size="small" onClick={add}>
              Another graph
            </Button>
          )}
          {state.can_edit && !fitted && (
            <Button
              size="small"
              type="text"
              danger
              onClick={() => store.edit({ type: 'remove_graph', graph: graph.id }, 'The graph was removed. Its readings stay.')}
            >
              Remove this graph
            </Button>
          )}
        </div>
        {!resultOf(graph.id)?.figure?.x_axis.named && <Moments key={graph.x} graph={graph} unit={unit} shown={resultOf(graph.id)?.figure?.moments ?? []} />}
        <RangeFields key={graph.id} graph={graph} kinds={resultOf(graph.id)?.figure?.x_axis.named ?? false} editable={state.can_edit} />
      </ChoiceLine>
      <div className={view === 'all' ? 'look-beside' : undefined}>
        {shown.map((g) => (
          <LookGraph
            key={g.id}
            graph={g}
            result={resultOf(g.id)}
            height={view === 'all' ? 280 : 440}
            inStep={view === 'all' ? graphs.filter((o) => o.id !== g.id && o.x === g.x) : []}
          />
        ))}
      </div>
      {graphs.length > 1 && (
        <div className="look-tiles" role="group" aria-label="Graphs of this lab book">
          {graphs.map((g) => (
            <button key={g.id} type="button" className={g.id === graph.id ? 'chosen' : ''} aria-pressed={g.id === graph.id} onClick={() => setChosen(g.id)}>
              <Typeset text={resultOf(g.id)?.figure?.title ?? 'nothing to draw yet'} />
            </button>
          ))}
        </div>
      )}
      {state.can_edit && <NoteList graph={graph} />}
      {resultOf(graph.id)?.figure && <PictureLinks graph={graph.id} ruled={rules} />}
    </div>
  );
}

/** Where no graph is left, or none was given: what could be drawn. */
function NoGraph() {
  const { state, quantities, plainSymbolOf } = useBook(({ state, quantities, plainSymbolOf }) => ({ state, quantities, plainSymbolOf }));
  const store = useBookStore();
  const along = quantities.find((q) => q.kind === 'changed');
  const up = varyingIn(quantities).filter((q) => q.kind !== 'changed');
  return (
    <>
      <h1 className="fit-none">There is no graph yet</h1>
      {!along || up.length === 0 ? (
        <p className="notice">A graph needs something that is set and something that is measured. Write two headings in the table first.</p>
      ) : (
        state.can_edit && (
          <div className="row">
            {up.map((q) => (
              <Button key={q.id} onClick={() => store.edit({ type: 'add_graph', graph: newId('g'), x: along.id, y: q.id })}>
                Draw <Typeset text={plainSymbolOf(q.id)} /> against <Typeset text={plainSymbolOf(along.id)} />
              </Button>
            ))}
          </div>
        )
      )}
    </>
  );
}

interface LookGraphProps {
  graph: Schemas['Graph'];
  result: Schemas['GraphResult'] | undefined;
  height: number;
  /** Graphs that share its x axis and follow its range. */
  inStep: Schemas['Graph'][];
}

function LookGraph({ graph, result, height, inStep }: LookGraphProps) {
  const store = useBookStore();
  const { state, quantities } = useBook(({ state, quantities }) => ({ state, quantities }));
  const edits = useGraphEdits(graph);
  const showRange = (range: Range) => {
    const { x_low, x_high } = range;
    if (inStep.length === 0) store.edit(placeGraph(graph, range));
    else
      store.edit({
        type: 'batch',
        words: 'graphs: one range along x',
        edits: [placeGraph(graph, range), ...inStep.map((o) => placeGraph(o, { x_low, x_high }))],
      });
  };
  const [chosen, setChosen] = useState<string | null>(null);
  const [marked, setMarked] = useState<Stretch | null>(null);
  const [spot, setSpot] = useState<{ x: number; y: number } | null>(null);
  const measured = measuredIn(quantities)[0]?.id ?? '';
  const pins = usePins();
  if (!result?.figure) return <p className="notice">{result?.trouble?.message ?? 'There is nothing to draw yet.'}</p>;
  const bare = { ...result.figure, lines: [], bands: [], equations: [] };
  const own = result.figure.series[0];
  const point = own?.points.find((p) => p.key === chosen);
  return (
    <div className="card look-card">
      <GraphTitle graph={graph} shown={result.figure.title} editable={state.can_edit} />
      <PlayedGraph
        of={graph}
        figure={bare}
        pins={pins}
        residuals={false}
        height={height}
        selected={chosen}
        onSelect={setChosen}
        marked={marked}
        onMark={setMarked}
        {...edits}
        spot={spot}
        onRange={state.can_edit ? showRange : undefined}
      />
      {marked && (
        <StretchBar
          graph={graph.id}
          fit=""
          series={result.figure.series}
          stretch={marked}
          onFit={null}
          onFitToo={null}
          onPin={state.can_edit ? (text) => store.edit(pinNote(graph, text, { anchor: 'stretch', x: marked.low, x_high: marked.high })) : null}
          onClose={() => setMarked(null)}
        />
      )}
      {point && (
        <section className="look-point" aria-label="The chosen point">
          <p>{point.label}</p>
          <div className="row">
            <Button size="small" onClick={() => store.goTo(cellKey(point.key, measured, 0))}>
              Its readings
            </Button>
            {state.can_edit && <NoteForm about={point.key} onPin={(text) => store.edit(pinNote(graph, text, { anchor: 'point', of: point.key }))} />}
            <Button size="small" type="text" onClick={() => setChosen(null)}>
              Done
            </Button>
          </div>
        </section>
      )}
      {!bare.x_axis.named && <Steepest graph={graph.id} onSpot={setSpot} />}
      <p className="quiet look-remark">
        Press a point for its readings, or drag across the graph for what a stretch says.{' '}
        <span className="by-keys">With the keyboard: Tab to the graph, then ← and →, + and − to look closer, f for all points, 0 for the origin.</span>
      </p>
    </div>
  );
}
