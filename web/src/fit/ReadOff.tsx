// Reading off the fit: y at an x, or x at a y, with ±. Every value that was read stays in the list until the page is left.
import { Button, Input, InputNumber, Segmented } from 'antd';
import { useState } from 'react';
import { type Schemas, client, get } from '@/shared/api/client';
import { useBook } from '@/shared/book/context';
import { CollectButton } from '@/shared/ui/CollectButton';
import { Labelled } from '@/shared/ui/Labelled';
import { plain } from '@/shared/ui/Rich';

type Direction = Schemas['ReadValue']['direction'];

export function ReadOff({ fit, figure, line }: { fit: string; figure: Schemas['Figure']; line: boolean }) {
  const { state, run } = useBook();
  const [direction, setDirection] = useState<Direction>('forward');
  const [at, setAt] = useState('');
  const [repeats, setRepeats] = useState(1);
  const [read, setRead] = useState<(Schemas['ReadValue'] & { repeats: number })[]>([]);
  const [trouble, setTrouble] = useState('');
  const [x, y] = [plain(figure.x_axis.label), plain(figure.y_axis.label)];
  const ask = () => {
    setTrouble('');
    get(client.GET('/api/books/{book_id}/read-off', { params: { path: { book_id: state.id }, query: { fit, direction, at, repeats, run } } }))
      .then((found) => setRead((before) => [{ ...found, repeats }, ...before].slice(0, 8)))
      .catch((e: unknown) => setTrouble(e instanceof Error ? e.message : ''));
  };
  return (
    <section className="read-off" aria-label="Read off">
      <form
        className="row"
        onSubmit={(e) => {
          e.preventDefault();
          if (at.trim()) ask();
        }}
      >
        <span className="quiet">Read off</span>
        <Segmented<Direction>
          size="small"
          aria-label="Which way it is read"
          value={line ? direction : 'forward'}
          disabled={!line}
          options={[
            { value: 'forward', label: 'y at an x' },
            { value: 'back', label: 'x at a y' },
          ]}
          onChange={setDirection}
        />
        <Labelled words={`at ${direction === 'forward' ? x : y} =`}>
          <Input size="small" className="mono" value={at} maxLength={60} status={trouble ? 'error' : ''} style={{ width: 110 }} onChange={(e) => setAt(e.target.value)} />
        </Labelled>
        {direction === 'back' && line && (
          <Labelled words="mean of">
            <InputNumber size="small" aria-label="How many readings it is the mean of" min={1} max={100} precision={0} value={repeats} style={{ width: 56 }} onChange={(n) => setRepeats(n ?? 1)} />
          </Labelled>
        )}
        <Button size="small" htmlType="submit" disabled={!at.trim()}>
          Read
        </Button>
      </form>
      {trouble && (
        <p className="derived-trouble" role="alert">
          {trouble}
        </p>
      )}
      <ul>
        {read.map((r, i) => (
          <li key={i}>
            {r.direction === 'forward' ? 'y' : 'x'} = <b>{r.value.text}</b> at {r.at} <span className={r.extrapolated ? 'read-outside' : 'quiet'}>{r.words}</span>
            {r.tangent && <span className="quiet">; the tangent there is {r.tangent.text}</span>} <CollectButton what={r.value.text} kind={r.direction === 'forward' ? 'read_forward' : 'read_back'} of={fit} at={r.at} repeats={r.direction === 'back' ? r.repeats : 1} />
            {r.tangent && <CollectButton what="the tangent" kind="tangent" of={fit} at={r.at} />}
          </li>
        ))}
      </ul>
    </section>
  );
}
