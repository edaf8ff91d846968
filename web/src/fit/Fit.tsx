// Fit: the graph large with its line and residual strip, and the line card.
import { Checkbox, Segmented } from 'antd';
import { type Schemas, type Slip } from '@/shared/api/client';
import { useBook, useBookStore } from '@/shared/book/context';
import { cellKey } from '@/shared/book/rows';
import { Graph } from '@/shared/graph/Graph';
import { AxisChooser } from '@/shared/ui/AxisChooser';
import { Maths } from '@/shared/ui/Maths';
import { NumberLink } from '@/shared/ui/Number';
import './fit.css';

type Weights = NonNullable<Schemas['Fit']['weights']>;
type FitResult = Schemas['FitResult'];

export function Fit() {
  const { state, analysis, quantities, fits, graphs } = useBook();
  const store = useBookStore();
  const fit = fits[0];
  const card = analysis.fits.find((f) => f.fit === fit?.id);
  const graph = graphs.find((g) => g.id === fit?.graph);
  const result = analysis.graphs.find((g) => g.graph === fit?.graph);
  if (!fit || !card || !graph) return <p className="notice">The plan of this practical has no line to fit.</p>;
  const measured = quantities.find((q) => q.kind === 'measured')?.id ?? '';
  const place = (part: Partial<Schemas['Fit']>) => {
    store.edit({ type: 'place_fit', fit: fit.id, weights: fit.weights, through_origin: fit.through_origin, ...part });
  };
  return (
    <>
      <div className="stage-head">
        <h1>The line</h1>
        <AxisChooser graph={graph} />
      </div>
      <div className="row fit-choices">
        <span className="quiet" id="weights-label">Points count</span>
        <Segmented<Weights>
          aria-labelledby="weights-label"
          disabled={!state.can_edit}
          value={fit.weights}
          options={[
            { value: 'both_bars', label: 'by both bars' },
            { value: 'y_bars', label: 'by the bars in y' },
            { value: 'none', label: 'all the same' },
          ]}
          onChange={(weights) => place({ weights })}
        />
        <Checkbox checked={fit.through_origin} disabled={!state.can_edit} onChange={(e) => place({ through_origin: e.target.checked })}>
          through the origin
        </Checkbox>
      </div>
      <div className="fit">
        <div className="card fit-graph">
          {result?.figure ? <Graph figure={result.figure} height={380} onSelect={(key) => store.goTo(cellKey(key, measured, 0))} /> : <p className="notice">{result?.trouble?.message}</p>}
          {result?.remarks.map((r) => (
            <p key={r} className="quiet fit-remark">
              {r}
            </p>
          ))}
        </div>
        {card.trouble ? <p className="notice">{card.trouble.message}</p> : <LineCard card={card} far={analysis.slips.filter((s) => s.kind === 'off_trend')} />}
      </div>
    </>
  );
}

function LineCard({ card, far }: { card: FitResult; far: Slip[] }) {
  const of = (part: string) => `fit:${card.fit}:${part}`;
  return (
    <aside className="card line-card" aria-label="Line card">
      <div className="line-equation">
        <Maths tex={card.equation_tex} block />
      </div>
      <p className="quiet line-method">{card.method}</p>
      <dl>
        <dt>gradient</dt>
        <dd>
          <NumberLink of={of('gradient')} label={card.gradient?.spoken}>
            <b>{card.gradient?.text}</b>
          </NumberLink>
        </dd>
        <dt>intercept</dt>
        <dd>
          <NumberLink of={of('intercept')} label={card.intercept?.spoken}>
            <b>{card.intercept?.text}</b>
          </NumberLink>
          <p>{card.intercept_words}</p>
        </dd>
        <dt>points</dt>
        <dd>
          <NumberLink of={of('within')}>{card.within.split(' (')[0]}</NumberLink>
          <p className="quiet">{card.within.slice(card.within.indexOf('(')).replace('(', '').replace(')', '')}</p>
        </dd>
        {card.reduced_chi2 && (
          <>
            <dt>
              χ²<sub>ν</sub>
            </dt>
            <dd>
              <NumberLink of={of('chi2')} label={`reduced chi squared ${card.reduced_chi2}`}>{card.reduced_chi2}</NumberLink>
              <p>{card.chi2_words}</p>
            </dd>
          </>
        )}
        <dt>R²</dt>
        <dd>
          <NumberLink of={of('r2')} label={`R squared ${card.r2}`}>{card.r2}</NumberLink>
          {card.r2_words && <p className="quiet">{card.r2_words}</p>}
        </dd>
        {card.pattern && (
          <>
            <dt>residuals</dt>
            <dd>
              <span className="mono">{[...card.pattern.signs].join(' ')}</span>
              <p>{card.pattern.sentence}</p>
            </dd>
          </>
        )}
      </dl>
      {far.length > 0 && <p className="notice">{far.length === 1 ? 'One point lies' : `${far.length} points lie`} more than three of its uncertainties from the line. It is listed in the margin.</p>}
    </aside>
  );
}
