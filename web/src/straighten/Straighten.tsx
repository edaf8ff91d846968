// Straighten: the same readings before and after, each with its line and the signs of its residuals.
import type { Schemas } from '@/shared/api/client';
import { useBook } from '@/shared/book/context';
import { Graph } from '@/shared/graph/Graph';
import { AxisChooser } from '@/shared/ui/AxisChooser';
import { Maths } from '@/shared/ui/Maths';
import './straighten.css';

export function Straighten() {
  const { state, analysis, graphs, fits } = useBook();
  const fitted = fits[0]?.graph;
  const before = graphs.find((g) => g.id !== fitted);
  const after = graphs.find((g) => g.id === fitted);
  return (
    <>
      <div className="stage-head">
        <h1>Is it a line?</h1>
        {state.relation_tex && (
          <p className="quiet">
            Expected: <Maths tex={state.relation_tex} />
          </p>
        )}
      </div>
      <div className="straighten">
        {before && <Side graph={before} title="Before" />}
        {after && <Side graph={after} title="After" />}
      </div>
      <p className="quiet straighten-why">
        Judge by the pattern: residuals of a straight line change sign at random; + − − − + means that it bends. {analysis.patterns.length > 1 && 'The sizes of the residuals cannot be compared between the two graphs, because their y are not the same kind of thing.'}
      </p>
    </>
  );
}

function Side({ graph, title }: { graph: Schemas['Graph']; title: string }) {
  const { analysis } = useBook();
  const result = analysis.graphs.find((g) => g.graph === graph.id);
  const pattern = analysis.patterns.find((p) => p.graph === graph.id);
  return (
    <section className="card straighten-side" aria-label={title}>
      <h2>{title}</h2>
      <AxisChooser graph={graph} origin={false} />
      {result?.figure ? <Graph figure={result.figure} height={300} /> : <p className="notice">{result?.trouble?.message}</p>}
      {pattern && !pattern.trouble && (
        <div className={`straighten-judgement${pattern.bends ? ' bends' : ''}`}>
          <p className="straighten-signs mono" aria-label={`Signs of the residuals: ${[...pattern.signs].map((s) => (s === '+' ? 'above' : 'below')).join(', ')}`}>
            {[...pattern.signs].join(' ')}
          </p>
          <p>
            <b>{pattern.sentence}</b>
          </p>
          <p className="quiet">
            {pattern.runs} runs of one sign{pattern.expected_runs && `, about ${pattern.expected_runs} expected by chance`}
            {pattern.curvature_t && `; curvature t = ${pattern.curvature_t}`}
            {pattern.reduced_chi2 && `; χ²ν = ${pattern.reduced_chi2}`}
          </p>
        </div>
      )}
      {pattern?.trouble && !result?.trouble && <p className="notice">{pattern.trouble.message}</p>}
    </section>
  );
}
