// The card of a fitted shape that is not a line.
import type { Schemas } from '@/shared/api/client';
import { CollectButton } from '@/shared/ui/CollectButton';
import { Maths } from '@/shared/ui/Maths';
import { NumberLink } from '@/shared/ui/Number';
import { told } from '@/shared/ui/told';
import { Expected } from './Expected';
import { HowGood } from './HowGood';
import { TangentForm } from './TangentForm';

export function CurveCard({
  card,
  fit,
  onPlace,
}: {
  card: Schemas['FitResult'];
  fit: Schemas['Fit'];
  onPlace: ((part: Partial<Schemas['Fit']>) => void) | null;
}) {
  const of = (part: string) => `fit:${card.fit}:${part}`;
  return (
    <aside className={`card line-card${card.is_doubtful ? ' doubtful' : ''}`} aria-label="Card of the curve">
      <p className="quiet">{card.shape_words}</p>
      <div className="line-equation">
        <Maths tex={card.equation_tex} block />
      </div>
      <dl>
        {card.parameters.map((p) => (
          <Parameter key={p.name} parameter={p} of={of(p.name)} fit={card.fit} />
        ))}
      </dl>
      {card.summit && (
        <p className="line-summit">
          {card.summit.is_highest ? 'Highest' : 'Lowest'} at <b>{card.summit.place.text}</b>{' '}
          <CollectButton what="this place" kind="summit" of={card.fit} part="place" />: <b>{card.summit.value.text}</b>{' '}
          <CollectButton what="this height" kind="summit" of={card.fit} part="value" />
        </p>
      )}
      {card.steps && (
        <p className="quiet">
          In steps of {card.steps.step}, {told(card.steps.way)}.
        </p>
      )}
      <HowGood card={card} />
      {onPlace && fit.shape === 'power' && <Expected key={fit.expected} fit={fit} onPlace={onPlace} />}
      {onPlace && <TangentForm fit={fit.id} />}
    </aside>
  );
}

function Parameter({ parameter: p, of, fit }: { parameter: Schemas['ParameterResult']; of: string; fit: string }) {
  return (
    <>
      <dt>
        <Maths tex={p.tex} />
      </dt>
      <dd>
        <NumberLink of={of} label={p.value?.spoken}>
          <b>{p.value?.text}</b>
        </NumberLink>{' '}
        <CollectButton what={p.name} kind="fit" of={fit} part={p.name} />
        {p.words.length > 0 && <p className="quiet">{told(p.words)}</p>}
      </dd>
    </>
  );
}
