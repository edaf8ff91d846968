// The card of a fitted shape that is not a line.
import type { Schemas } from '@/shared/api/client';
import { Maths } from '@/shared/ui/Maths';
import { NumberLink } from '@/shared/ui/Number';
import { Goodness } from './Goodness';

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
        <Goodness card={card} />
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
