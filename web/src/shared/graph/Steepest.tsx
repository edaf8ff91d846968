// Where the points are steepest, as at the end point of an S-shaped curve, and the reading at a fraction of that place.
import { useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { client, get } from '@/shared/api/client';
import { useBook, useDecimalMark } from '@/shared/book/context';
import { withMark } from '@/shared/book/decimalMark';
import { CollectButton } from '@/shared/ui/CollectButton';
import { Labelled } from '@/shared/ui/Labelled';
import { readNumber } from '@/shared/ui/readNumber';
import { told } from '@/shared/ui/told';
import { TroubleWords } from '@/shared/ui/TroubleWords';
import { Exact } from '@/shared/ui/Exact';
import { NumberTrouble } from '@/shared/ui/NumberTrouble';

export function Steepest({ graph, onSpot }: { graph: string; onSpot: (spot: { x: number; y: number } | null) => void }) {
  const { state, run } = useBook(({ state, run }) => ({ state, run }));
  const [open, setOpen] = useState(false);
  const [text, setText] = useState(withMark('0.5', useDecimalMark()));
  const fraction = readNumber(text) ?? NaN;
  const wrong = !(fraction > 0 && fraction <= 10);
  const found = useQuery({
    queryKey: ['steepest', state.id, state.revision, run, graph, fraction],
    queryFn: () => get(client.GET('/api/books/{book_id}/steepest', { params: { path: { book_id: state.id }, query: { graph, fraction, run } } })),
    enabled: open && !wrong,
    placeholderData: (before) => before,
    retry: false,
  });
  const s = open ? found.data : undefined;
  useEffect(() => {
    onSpot(s ? { x: s.x, y: s.y } : null);
    return () => onSpot(null);
  }, [s, onSpot]);
  return (
    <details className="graph-more" onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary>Where the points are steepest</summary>
      {found.isError && <TroubleWords beside>{found.error.message}</TroubleWords>}
      {s && (
        <>
          <p>
            at <b>{s.place.text}</b> <span className="quiet">{told(s.refined)}; ± half the interval</span>{' '}
            <CollectButton what="the steepest place" kind="steepest" of={graph} part="place" at={text} />
          </p>
          <p>
            there it changes by <b>{s.rate.text}</b> <CollectButton what="the largest rate" kind="steepest" of={graph} part="rate" at={text} />
          </p>
          <div className="row">
            <Labelled words="the reading at">
              <Exact
                size="small"
                className="field-tiny"
                aria-label="Fraction of the steepest place"
                value={text}
                status={wrong ? 'error' : ''}
                onChange={(e) => setText(e.target.value)}
              />
            </Labelled>
            <span>
              of that place ({s.fraction_place}): {s.reading ? <b>{s.reading.text}</b> : 'no points around it'}
            </span>
            {s.reading && <CollectButton what="the reading there" kind="steepest" of={graph} part="reading" at={text} />}
            <NumberTrouble typed={[text]} />
          </div>
        </>
      )}
    </details>
  );
}
