// What the algebra offers of the relation: a plot that is straight, with its line and what is found by it, in one press.
import { useQuery } from '@tanstack/react-query';
import { Button } from 'antd';
import { type Edit, type Schemas, client, get } from '@/shared/api/client';
import { useBook, useBookStore, useSlopeWord } from '@/shared/book/context';
import { newId } from '@/shared/book/newId';
import { Maths } from '@/shared/ui/Maths';

type Offer = Schemas['PlotOffer'];

export function Offers({ planId }: { planId: number }) {
  const word = useSlopeWord();
  const { state } = useBook(({ state }) => ({ state }));
  const store = useBookStore();
  const offers = useQuery({
    queryKey: ['plan-offers', planId, state.revision],
    queryFn: () => get(client.GET('/api/plans/{plan_id}/offers', { params: { path: { plan_id: planId } } })),
    placeholderData: (before: Offer[] | undefined) => before,
    retry: false,
  });
  if (!offers.data?.length) return null;
  const take = (offer: Offer) => {
    const known = state.document.graphs.at(-1);
    // the first graph shows what was measured; the straight one stands beside it
    const fresh = state.document.graphs.length < 2;
    const graph = fresh || !known ? newId('g') : known.id;
    if (fresh) store.edit({ type: 'add_graph', graph, x: offer.x, y: offer.y });
    store.edit({
      type: 'keep_plot',
      graph,
      x: offer.x,
      y: offer.y,
      x_form: offer.x_form,
      y_form: offer.y_form,
      x_new: newId('q'),
      y_new: newId('q'),
    });
    const fitted = state.document.fits.find((f) => f.graph === graph);
    const fit = fitted?.id ?? newId('f');
    if (!fitted) store.edit({ type: 'add_fit', fit, graph } as Edit);
    if (offer.formula && !state.document.findings.some((f) => f.symbol === offer.unknown))
      store.edit({
        type: 'add_finding',
        finding: newId('w'),
        content: { name: offer.unknown, symbol: offer.unknown, unit: '', formula: offer.formula, fit, accepted: null, uses: [], compare: [] },
      });
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
              </span>
            </span>
            <Button size="small" onClick={() => take(offer)}>
              Take it
            </Button>
          </li>
        ))}
      </ul>
    </section>
  );
}
