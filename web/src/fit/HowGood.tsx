// How well what was fitted goes through its points: the verdict in words, and how it came about behind a fold.
import type { ReactNode } from 'react';
import type { Schemas } from '@/shared/api/client';
import { Fold } from '@/shared/ui/Fold';
import { told } from '@/shared/ui/told';
import { Explained } from '@/shared/words/Explained';
import { Goodness } from './Goodness';

export function HowGood({ card, children }: { card: Schemas['FitResult']; children?: ReactNode }) {
  return (
    <>
      <p className="line-verdict">
        <Explained text={`${told(card.chi2_words)} ${told(card.pattern?.words)}`} />
      </p>
      <Fold words="How good is it?" className="line-ways line-good">
        <p className="quiet line-method">
          <Explained text={told(card.method, '; ')} />
        </p>
        <dl>
          <Goodness card={card} />
          {card.pattern && (
            <>
              <dt>residuals</dt>
              <dd className="mono">{[...card.pattern.signs].join(' ')}</dd>
            </>
          )}
        </dl>
        {children}
      </Fold>
    </>
  );
}
