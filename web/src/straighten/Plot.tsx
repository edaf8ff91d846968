// One plot of the board, large: its residual strip, how straight it is, what its gradient would mean, and keeping it.
import { Button } from 'antd';
import { Link } from 'react-router';
import type { Schemas } from '@/shared/api/client';
import { useBook, useBookStore, useSlopeWord } from '@/shared/book/context';
import { newId } from '@/shared/book/newId';
import { Graph } from '@/shared/graph/Graph';
import { Maths } from '@/shared/ui/Maths';
import { told } from '@/shared/ui/told';
import { Typeset } from '@/shared/ui/Typeset';
import type { Pair } from './Board';
import type { Mark } from './useMarks';

const MARKS: [Mark, string][] = [
  ['straight', 'straight'],
  ['bends', 'it bends'],
  ['unclear', 'cannot be told'],
];

interface Props {
  plot: Schemas['BoardPlot'] | undefined;
  trouble: string | undefined;
  x: string;
  y: string;
  pair: Pair;
  /** Whether its verdict is seen, and what somebody has said first. */
  judged: boolean;
  mark: Mark | null;
  onMark: ((mark: Mark) => void) | null;
  expected: Schemas['Expected'] | undefined;
}

export function Plot({ plot, trouble, x, y, pair, judged, mark, onMark, expected }: Props) {
  const word = useSlopeWord();
  const { state, fits } = useBook(({ state, fits }) => ({ state, fits }));
  const store = useBookStore();
  const figure = plot?.graph.figure;
  const title = figure?.title ?? '';
  const pattern = plot?.pattern;
  if (trouble) return <p className="notice">{trouble}</p>;
  return (
    <article className="card straighten-plot" aria-label={title}>
      <div className="row spread">
        {title && (
          <h2>
            <Typeset text={title} />
          </h2>
        )}
        {plot?.kept ? (
          <Link to={`/books/${state.id}/fit?of=${plot.kept}`}>its line is in Fit</Link>
        ) : (
          state.can_edit &&
          figure && (
            <Button
              size="small"
              type="primary"
              onClick={() =>
                store.edit(
                  {
                    type: 'keep_plot',
                    graph: newId('g'),
                    fit: newId('f'),
                    x,
                    y,
                    ...pair,
                    x_new: newId('q'),
                    y_new: newId('q'),
                    instead_of: fits[0]?.id ?? '',
                  },
                  `${title} is a graph of its own now, with its line in Fit.`,
                )
              }
            >
              Keep this one
            </Button>
          )
        )}
      </div>
      {figure && <Graph figure={judged ? figure : { ...figure, summary: figure.summary.filter((s) => s.code === 'graph_of') }} height={250} />}
      {!judged && onMark && figure && (
        <div className="row straighten-mark" role="group" aria-label={`What do you say of ${title}?`}>
          <span>Straight, or does it bend?</span>
          {MARKS.map(([value, words]) => (
            <Button key={value} size="small" onClick={() => onMark(value)}>
              {words}
            </Button>
          ))}
        </div>
      )}
      {judged && mark && <p className="straighten-said">You said: {MARKS.find(([value]) => value === mark)?.[1]}.</p>}
      {judged && pattern && !pattern.trouble && (
        <div className={`straighten-judgement${pattern.bends ? ' bends' : ''}`}>
          <p>
            <b>{told(pattern.words)}</b>
          </p>
          <p className="quiet">
            {pattern.runs} runs of one sign{pattern.expected_runs && `, about ${pattern.expected_runs} expected by chance`}
            {pattern.curvature_t && `; curvature t = ${pattern.curvature_t}`}
            {pattern.reduced_chi2 && `; χ²ν = ${pattern.reduced_chi2}`}
          </p>
        </div>
      )}
      {judged && expected && (
        <p className="straighten-meaning">
          If the relation holds, the {word} is <Maths tex={expected.gradient_tex} /> and the intercept <Maths tex={expected.intercept_tex} />.
        </p>
      )}
    </article>
  );
}
