// Straighten: the board of forms, two of its plots large side by side, and keeping the one that is straight.
import { useQueries, useQuery } from '@tanstack/react-query';
import { Button } from 'antd';
import { useState } from 'react';
import { type Schemas, client, get } from '@/shared/api/client';
import { useBook } from '@/shared/book/context';
import { RunNames } from '@/shared/book/RunNames';
import { Maths } from '@/shared/ui/Maths';
import { OwnText } from '@/shared/ui/OwnText';
import { useRemembered } from '@/shared/ui/useRemembered';
import { drawableIn, isWorded, measuredIn } from '@/shared/book/quantities';
import { TroubleWords } from '@/shared/ui/TroubleWords';
import { Board, type Pair, samePair } from './Board';
import { Plot } from './Plot';
import { useMarks } from './useMarks';
import './straighten.css';
import { Typeset } from '@/shared/ui/Typeset';
import { SymbolSelect } from '@/shared/ui/SymbolSelect';

const MOST_LARGE = 2;

export function Straighten() {
  const { state, run, quantities, graphs, plainSymbolOf } = useBook(({ state, run, quantities, graphs, plainSymbolOf }) => ({
    state,
    run,
    quantities,
    graphs,
    plainSymbolOf,
  }));
  const first = graphs[0];
  const [axes, setAxes] = useState<{ x: string; y: string } | null>(null);
  const x = axes?.x ?? first?.x ?? quantities.find((q) => q.kind === 'changed')?.id ?? '';
  const y = axes?.y ?? first?.y ?? measuredIn(quantities)[0]?.id ?? '';
  const [large, setLarge] = useState<Pair[]>([]);
  const board = useQuery({
    queryKey: ['board', state.id, state.revision, run, x, y],
    queryFn: () => get(client.GET('/api/books/{book_id}/board', { params: { path: { book_id: state.id }, query: { x, y, run } } })),
    enabled: x !== '' && y !== '',
    placeholderData: (before) => before,
    retry: false,
  });
  const marks = useMarks(`${state.id} ${y} against ${x}`);
  const [all, setAll] = useRemembered('all forms of the board');
  const judged = board.data?.judged ?? false;
  const told = judged && marks.all;
  const shown = large.length ? large : startWith(board.data, told);
  const plots = useQueries({
    queries: shown.map((pair) => ({
      queryKey: ['board-plot', state.id, state.revision, run, x, y, pair.x_form, pair.y_form],
      queryFn: () => get(client.GET('/api/books/{book_id}/board/plot', { params: { path: { book_id: state.id }, query: { x, y, run, ...pair } } })),
      placeholderData: (before: Schemas['BoardPlot'] | undefined) => before,
      retry: false,
    })),
  });
  const options = drawableIn(quantities).map((q) => ({ value: q.id, label: isWorded(q) ? q.name : `${plainSymbolOf(q.id)} ${q.name}` }));
  const choose = (pair: Pair) => {
    const others = shown.filter((p) => !samePair(p, pair));
    setLarge(others.length < shown.length ? (others.length ? others : shown) : [...shown, pair].slice(-MOST_LARGE));
  };
  const change = (part: { x?: string; y?: string }) => {
    setAxes({ x, y, ...part });
    setLarge([]);
  };
  return (
    <>
      <div className="stage-head">
        <h1>Is it a line?</h1>
        <div className="row">
          <SymbolSelect aria-label="Quantity along y" value={y} options={options} onChange={(next) => change({ y: next })} popupMatchSelectWidth={false} />
          <span className="quiet">against</span>
          <SymbolSelect aria-label="Quantity along x" value={x} options={options} onChange={(next) => change({ x: next })} popupMatchSelectWidth={false} />
        </div>
        <RunNames />
      </div>
      {state.relation_tex && (
        <p className="quiet straighten-expected">
          Expected: <Maths tex={state.relation_tex} />
        </p>
      )}
      {(x === '' || y === '') && <p className="notice">There is nothing to plot yet. Write two headings in the table first.</p>}
      {board.isError && <TroubleWords>{board.error.message}</TroubleWords>}
      {board.isPending && x !== '' && y !== '' && (
        <p className="quiet" role="status">
          Drawing every form of <Typeset text={plainSymbolOf(y)} /> against every form of <Typeset text={plainSymbolOf(x)} /> …
        </p>
      )}
      {board.data && !board.isError && (
        <div className={`straighten${all ? ' all' : ''}`}>
          <section aria-label="The board">
            <Board board={board.data} large={shown} all={all} told={told} onChoose={choose} />
            <div className="row straighten-acts">
              <Button size="small" onClick={() => setAll(!all)}>
                {all ? 'Three by three' : 'More forms'}
              </Button>
              {judged && !told && (
                <Button size="small" type="text" onClick={marks.showAll}>
                  Show what Hobrel makes of them all
                </Button>
              )}
            </div>
            {!board.data.judged && (
              <div className="straighten-choice">
                <h2>Which of these is straight, and how do you tell?</h2>
                <p className="quiet">Write your choice and your reason; then the board says how it judges them.</p>
                <OwnText section="choice" label="Which is straight, and how do you tell?" hint="… against …, because its residuals …" />
              </div>
            )}
          </section>
          <section className="straighten-large" aria-label="Large">
            {shown.map((pair, i) => {
              const plot = plots[i];
              return (
                <Plot
                  key={`${pair.x_form} ${pair.y_form}`}
                  plot={plot?.data}
                  trouble={plot?.error?.message}
                  x={x}
                  y={y}
                  pair={pair}
                  judged={told || (judged && marks.markOf(pair) !== null)}
                  mark={marks.markOf(pair)}
                  onMark={judged ? (mark) => marks.say(pair, mark) : null}
                  expected={board.data.expected.find((e) => samePair(e, pair))}
                />
              );
            })}
          </section>
        </div>
      )}
      <details className="straighten-why">
        <summary>Why not by the size of the residuals?</summary>
        <p>
          A residual of T² is in s², one of ln T is a pure number: their sizes are not the same kind of thing, so a small RMS error of one plot says nothing
          against a large one of another. What can be compared is the pattern. Residuals of a straight line change sign at random; + − − − + means that it still
          bends. Curvature t is how many standard errors the bend is away from none, and χ²ν compares the scatter with the bars.
        </p>
      </details>
    </>
  );
}

/** The plain plot, and beside it, once the verdicts are wanted, what the relation, or else the board, thinks straightest. */
function startWith(board: Schemas['Board'] | undefined, told: boolean): Pair[] {
  if (!board) return [];
  const plain = { x_form: 'v', y_form: 'v' };
  const [relation] = board.expected;
  const best = told ? (relation ?? board.squares[0]) : undefined;
  return best && !samePair(best, plain) ? [plain, { x_form: best.x_form, y_form: best.y_form }] : [plain];
}
