// How well a fit goes through its points: how many within their bars, χ² and R².
import type { Schemas } from '@/shared/api/client';
import { NumberLink } from '@/shared/ui/Number';
import { told } from '@/shared/ui/told';
import { Explained, Term } from '@/shared/words/Explained';

export function Goodness({ card }: { card: Schemas['FitResult'] }) {
  const of = (part: string) => `fit:${card.fit}:${part}`;
  const [points, ...expected] = card.within;
  return (
    <>
      <dt>points</dt>
      <dd>
        <NumberLink of={of('within')}>{points?.text}</NumberLink>
        {expected.length > 0 && (
          <p className="quiet">
            <Explained text={told(expected)} />
          </p>
        )}
      </dd>
      {card.reduced_chi2 && (
        <>
          <dt>
            <Term of="χ²ν, reduced chi squared">
              χ²<sub>ν</sub>
            </Term>
          </dt>
          <dd>
            <NumberLink of={of('chi2')} label={`reduced chi squared ${card.reduced_chi2}`}>
              {card.reduced_chi2}
            </NumberLink>
          </dd>
        </>
      )}
      {card.r2 && (
        <>
          <dt>
            <Term of="R²">R²</Term>
          </dt>
          <dd>
            <NumberLink of={of('r2')} label={`R squared ${card.r2}`}>
              {card.r2}
            </NumberLink>
            {card.r2_words.length > 0 && <p className="quiet">{told(card.r2_words)}</p>}
          </dd>
        </>
      )}
    </>
  );
}
