// The heading block of a quantity: symbol and unit, name, what it is read from, and how often.
import { useState } from 'react';
import type { ColumnResult, Quantity } from '@/shared/api/client';
import { Rich } from '@/shared/ui/Rich';
import { isWorded } from '@/shared/book/quantities';
import { HeadingInput } from './NewHeadings';
import { type HeadingDraft, headingOf } from './headings';

export function Heading({
  quantity: q,
  result,
  width,
  draft,
  repeatsFree,
  onRepeats,
  onRewrite,
}: {
  quantity: Quantity;
  result: ColumnResult | undefined;
  /** What its readings need, where that is more than usual. */
  width: number | undefined;
  /** What was typed into it and is not kept yet. */
  draft: HeadingDraft | undefined;
  repeatsFree: boolean;
  onRepeats: (q: Quantity, n: number) => void;
  /** Of one's own: what it says can be typed anew. */
  onRewrite: ((text: string) => void) | null;
}) {
  const [writing, setWriting] = useState(false);
  const names = (
    <>
      <span className="ruled-symbol">
        {result ? <Rich text={result.symbol} /> : isWorded(q) ? q.name : <i>{q.symbol}</i>}
        {q.unit && !isWorded(q) ? <span className="ruled-unit"> / {result?.unit ?? q.unit}</span> : null}
      </span>
      {isWorded(q) ? <span className="ruled-name">in words</span> : q.name !== q.symbol && <span className="ruled-name">{q.name}</span>}
    </>
  );
  const refused = draft?.trouble ?? '';
  return (
    <>
      <th colSpan={q.repeats} scope="colgroup" className="ruled-heading" style={width ? { minWidth: width } : undefined}>
        {onRewrite && (writing || refused) ? (
          <HeadingInput
            label={`Heading of ${q.name}`}
            start={refused ? (draft?.text ?? '') : headingOf(q)}
            hint=""
            trouble={refused}
            focus
            onWrite={(text) => {
              setWriting(false);
              onRewrite(text);
            }}
            onLeave={() => setWriting(false)}
          />
        ) : draft ? (
          <span className="quiet">{draft.text}</span>
        ) : onRewrite ? (
          <button type="button" className="heading-rewrite" tabIndex={-1} title="Type this heading anew" onClick={() => setWriting(true)}>
            {names}
          </button>
        ) : (
          names
        )}
        <span className="ruled-instrument">{result?.instrument_text}</span>
        {repeatsFree && q.kind === 'measured' && !isWorded(q) && (
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
