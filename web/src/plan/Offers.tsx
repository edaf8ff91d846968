// What the algebra offers of the relation: a plot that is straight, with its line and what is found by it, in one press.
import { useQuery } from '@tanstack/react-query';
import { Button } from 'antd';
import { useMatch, useSearchParams } from 'react-router';
import { type Schemas, client, get } from '@/shared/api/client';
import { changeFinding } from '@/shared/book/choices';
import { useBook, useBookStore, useSlopeWord } from '@/shared/book/context';
import { newId } from '@/shared/book/newId';
import { Maths } from '@/shared/ui/Maths';

type Offer = Schemas['PlotOffer'];

export function Offers({ planId }: { planId: number }) {
  const word = useSlopeWord();
  const { state } = useBook(({ state }) => ({ state }));
  const store = useBookStore();
  const inFit = useMatch('/books/:book/fit');
  const [, setAddress] = useSearchParams();
  const offers = useQuery({
    queryKey: ['plan-offers', planId, state.revision],
    queryFn: () => get(client.GET('/api/plans/{plan_id}/offers', { params: { path: { plan_id: planId } } })),
    placeholderData: (before: Offer[] | undefined) => before,
    retry: false,
  });
  if (!offers.data?.length) return null;
  const foundBy = (offer: Offer) => state.document.findings.find((f) => f.symbol === offer.unknown);
  const isTaken = (offer: Offer) => offer.kept !== '' && (!offer.formula || foundBy(offer) !== undefined);
  const take = (offer: Offer) => {
    const found = foundBy(offer);
    const fit = offer.kept || keepPlot(offer, found?.fit ?? '');
    // where lines are looked at, the one that has been taken is
    if (inFit) setAddress({ of: fit }, { replace: true });
    if (!offer.formula) return;
    if (found) store.edit(changeFinding(found, { formula: offer.formula }));
    else
      store.edit({
        type: 'add_finding',
        finding: newId('w'),
        content: { name: offer.unknown, symbol: offer.unknown, unit: '', formula: offer.formula, fit, accepted: null, uses: [], compare: [] },
      });
  };
  const keepPlot = (offer: Offer, insteadOf: string) => {
    const fit = newId('f');
    store.edit({
      type: 'keep_plot',
      graph: newId('g'),
      fit,
      x: offer.x,
      y: offer.y,
      x_form: offer.x_form,
      y_form: offer.y_form,
      x_new: newId('q'),
      y_new: newId('q'),
      instead_of: insteadOf,
    });
    return fit;
  };
  return (
    <section className="plan-offers" aria-label="What the relation offers">
      <h3>What the relation offers</h3>
      <ul>
        {offers.data.map((offer) => (
          <li key={`${offer.y}${offer.y_form}${offer.x}${offer.x_form}`}>
            <span>
              <Maths tex={offer.axes_tex} />
              <span className="quiet">
                {word} <Maths tex={offer.gradient_tex} />
                {offer.intercept_tex && (
                  <>
                    , intercept <Maths tex={offer.intercept_tex} />
                  </>
                )}
              </span>
            </span>
            {isTaken(offer) ? (
              <span className="quiet">taken</span>
            ) : (
              <Button size="small" onClick={() => take(offer)}>
                Take it
              </Button>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
