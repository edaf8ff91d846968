// The card of a fitted shape that is not a line.
import type { Schemas } from '@/shared/api/client';
import { Maths } from '@/shared/ui/Maths';
import { NumberLink } from '@/shared/ui/Number';

export function CurveCard({ card }: { card: Schemas['FitResult'] }) {
  const of = (part: string) => `fit:${card.fit}:${part}`;
  return (
    <aside className="card line-card" aria-label="Card of the curve">
      <p className="quiet">{card.shape_words}</p>
      <div className="line-equation">
        <Maths tex={card.equation_tex} block />
      </div>
      <p className="quiet line-method">{card.method}</p>
      <dl>
        {card.parameters.map((p) => (
          <Parameter key={p.name} parameter={p} of={of(p.name)} />
        ))}
        <dt>points</dt>
        <dd>
          <NumberLink of={of('within')}>{card.within.split(' (')[0]}</NumberLink>
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
        {card.r2 && (
          <>
            <dt>R²</dt>
            <dd>
              <NumberLink of={of('r2')} label={`R squared ${card.r2}`}>{card.r2}</NumberLink>
            </dd>
          </>
        )}
      </dl>
    </aside>
  );
}

function Parameter({ parameter: p, of }: { parameter: Schemas['ParameterResult']; of: string }) {
  return (
    <>
      <dt>
        <Maths tex={p.tex} />
      </dt>
      <dd>
        <NumberLink of={of} label={p.value?.spoken}>
          <b>{p.value?.text}</b>
        </NumberLink>
        {p.words && <p className="quiet">{p.words}</p>}
      </dd>
    </>
  );
}
