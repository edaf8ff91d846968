// The line card: equation, gradient and intercept, points within their bars, χ², residual pattern, steepest and shallowest.
import { useSlopeWord } from '@/shared/book/context';
import type { Schemas, Slip } from '@/shared/api/client';
import { CollectButton } from '@/shared/ui/CollectButton';
import { Maths } from '@/shared/ui/Maths';
import { NumberLink } from '@/shared/ui/Number';
import { told } from '@/shared/ui/told';
import { HowGood } from './HowGood';
import { Pulls } from './Pulls';

type FitResult = Schemas['FitResult'];

export function LineCard({ card, far, onChoose }: { card: FitResult; far: Slip[]; onChoose: (key: string) => void }) {
  const word = useSlopeWord();
  const of = (part: string) => `fit:${card.fit}:${part}`;
  return (
    <aside className={`card line-card${card.is_doubtful ? ' doubtful' : ''}`} aria-label="Line card">
      <div className="line-equation">
        <Maths tex={card.equation_tex} block />
      </div>
      <dl>
        <dt>{word}</dt>
        <dd>
          <NumberLink of={of('gradient')} label={card.gradient?.spoken}>
            <b>{card.gradient?.text}</b>
          </NumberLink>{' '}
          <CollectButton what={`the ${word}`} kind="fit" of={card.fit} part="gradient" />
        </dd>
        <dt>intercept</dt>
        <dd>
          <NumberLink of={of('intercept')} label={card.intercept?.spoken}>
            <b>{card.intercept?.text}</b>
          </NumberLink>{' '}
          <CollectButton what="the intercept" kind="fit" of={card.fit} part="intercept" />
          <p>{told(card.intercept_words)}</p>
        </dd>
      </dl>
      <HowGood card={card}>
        {card.extremes && <Extremes extremes={card.extremes} />}
        {card.uncertainties.length > 0 && (
          <details className="line-ways">
            <summary>
              The {word}’s ± in {card.uncertainties.length} ways
            </summary>
            {card.uncertainties.map((u) => (
              <p key={u.name}>
                <span className="quiet">{u.name}</span> <b>{u.text}</b>
                <br />
                <span className="quiet">{told(u.words)}</span>
              </p>
            ))}
          </details>
        )}
        <Pulls fit={card.fit} onChoose={onChoose} />
      </HowGood>
      {far.length > 0 && (
        <p className="notice">
          {far.length === 1 ? 'One point lies' : `${far.length} points lie`} more than three of its uncertainties from the line. It is listed in the margin.
        </p>
      )}
    </aside>
  );
}

function Extremes({ extremes: e }: { extremes: NonNullable<FitResult['extremes']> }) {
  return (
    <div className="line-extremes">
      {e.gradient ? (
        <p>
          <span className="quiet">steepest</span> {e.steepest}, <span className="quiet">shallowest</span> {e.shallowest}
        </p>
      ) : (
        <p className="quiet">{told(e.words)}</p>
      )}
    </div>
  );
}
