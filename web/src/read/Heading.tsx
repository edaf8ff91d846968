// The heading block of a quantity: symbol and unit, name, what it is read from, and how often.
import type { ColumnResult, Quantity } from '@/shared/api/client';
import { Rich } from '@/shared/ui/Rich';

export function Heading({
  quantity: q,
  result,
  repeatsFree,
  onRepeats,
}: {
  quantity: Quantity;
  result: ColumnResult | undefined;
  repeatsFree: boolean;
  onRepeats: (q: Quantity, n: number) => void;
}) {
  return (
    <>
      <th colSpan={q.repeats} scope="colgroup" className="ruled-heading">
        <span className="ruled-symbol">
          {result ? <Rich text={result.symbol} /> : <i>{q.symbol}</i>}
          {q.unit ? <span className="ruled-unit"> / {result?.unit ?? q.unit}</span> : null}
        </span>
        <span className="ruled-name">{q.name}</span>
        <span className="ruled-instrument">{result?.instrument_text}</span>
        {repeatsFree && q.kind === 'measured' && (
          <span className="ruled-repeats">
            <button
              type="button"
              tabIndex={-1}
              aria-label={`One repeat fewer of ${q.name}`}
              disabled={q.repeats <= 1}
              onClick={() => onRepeats(q, q.repeats - 1)}
            >
              −
            </button>
            {q.repeats} {q.repeats === 1 ? 'reading' : 'repeats'}
            <button
              type="button"
              tabIndex={-1}
              aria-label={`One repeat more of ${q.name}`}
              disabled={q.repeats >= 12}
              onClick={() => onRepeats(q, q.repeats + 1)}
            >
              +
            </button>
          </span>
        )}
      </th>
      {q.repeats > 1 && (
        <th scope="col" className="ruled-heading ruled-mean-heading">
          mean ±
        </th>
      )}
    </>
  );
}
