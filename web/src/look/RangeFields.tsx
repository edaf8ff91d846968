// The range that a graph shows: as the points need it, or typed.
import { Button } from 'antd';
import { useState } from 'react';
import type { Schemas } from '@/shared/api/client';
import { placeGraph } from '@/shared/book/choices';
import { useDecimalMark } from '@/shared/book/context';
import { withMark } from '@/shared/book/decimalMark';
import { useSubmit } from '@/shared/book/useSubmit';
import { AS_NEEDED, type Range } from '@/shared/graph/useZoom';
import { Labelled } from '@/shared/ui/Labelled';
import { readNumber } from '@/shared/ui/readNumber';
import { Exact } from '@/shared/ui/Exact';
import { NumberTrouble } from '@/shared/ui/NumberTrouble';
import { TroubleWords } from '@/shared/ui/TroubleWords';

const ENDS = ['x_low', 'x_high', 'y_low', 'y_high'] as const;
type End = (typeof ENDS)[number];

const FIELDS: { end: End; words: string; label: string }[] = [
  { end: 'x_low', words: 'Shown: x from', label: 'x from' },
  { end: 'x_high', words: 'to', label: 'x to' },
  { end: 'y_low', words: 'y from', label: 'y from' },
  { end: 'y_high', words: 'to', label: 'y to' },
];

/** `kinds`: what stands along x are no numbers. */
export function RangeFields({ graph, kinds, editable }: { graph: Schemas['Graph']; kinds: boolean; editable: boolean }) {
  const mark = useDecimalMark();
  const { submit, busy, refusal } = useSubmit();
  const [draft, setDraft] = useState<Partial<Record<End, string>>>({});
  const text = (end: End) => draft[end] ?? withMark(String(graph[end] ?? ''), mark);
  const values = Object.fromEntries(ENDS.map((end) => [end, readNumber(text(end))])) as Record<End, number | null>;
  const wrong = (end: End) => Number.isNaN(values[end] ?? 0);
  const chosen = ENDS.some((end) => (graph[end] ?? null) !== null);
  const show = (range: Range) => submit(placeGraph(graph, range), () => setDraft({}));
  return (
    <form
      className="row look-range"
      onSubmit={(e) => {
        e.preventDefault();
        show(values);
      }}
    >
      {FIELDS.filter(({ end }) => !kinds || end.startsWith('y')).map(({ end, words, label }) => (
        <Labelled key={end} words={words} group>
          <Exact
            size="small"
            className="field-short"
            aria-label={label}
            placeholder="auto"
            disabled={!editable}
            status={wrong(end) ? 'error' : ''}
            aria-invalid={wrong(end)}
            value={text(end)}
            onChange={(e) => setDraft({ ...draft, [end]: e.target.value })}
          />
        </Labelled>
      ))}
      {editable && (
        <Button size="small" htmlType="submit" loading={busy} disabled={ENDS.some(wrong)}>
          Show that
        </Button>
      )}
      {chosen && editable && (
        <Button size="small" type="text" onClick={() => show(AS_NEEDED)}>
          as the points need it
        </Button>
      )}
      <NumberTrouble typed={ENDS.map(text)} />
      <TroubleWords beside>{refusal}</TroubleWords>
    </form>
  );
}
