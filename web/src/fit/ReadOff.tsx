// Reading off the fit: y at an x, or x at a y, with ±; typed here, or pointed at on the graph.
import { Button, InputNumber, Segmented } from 'antd';
import { useState } from 'react';
import type { Schemas } from '@/shared/api/client';
import { CollectButton } from '@/shared/ui/CollectButton';
import { Labelled } from '@/shared/ui/Labelled';
import { plain } from '@/shared/ui/Rich';
import { told } from '@/shared/ui/told';
import { TroubleWords } from '@/shared/ui/TroubleWords';
import type { Direction, ReadOffState } from './useReadOff';
import { Typeset } from '@/shared/ui/Typeset';
import { Exact } from '@/shared/ui/Exact';

export function ReadOff({ fit, figure, line, read }: { fit: string; figure: Schemas['Figure']; line: boolean; read: ReadOffState }) {
  const [direction, setDirection] = useState<Direction>('forward');
  const [at, setAt] = useState('');
  const [repeats, setRepeats] = useState(1);
  const [x, y] = [plain(figure.x_axis.label), plain(figure.y_axis.label)];
  const back = direction === 'back';
  const { under, trouble } = read;
  return (
    <section className="read-off" aria-label="Read off">
      <form
        className="row"
        onSubmit={(e) => {
          e.preventDefault();
          if (at.trim()) read.ask(direction, at, back && line ? repeats : 1);
        }}
      >
        <span className="quiet">Read off</span>
        <Segmented<Direction>
          size="small"
          aria-label="Which way it is read"
          value={direction}
          options={[
            { value: 'forward', label: 'y at an x' },
            { value: 'back', label: 'x at a y' },
          ]}
          onChange={setDirection}
        />
        <Labelled words={`at ${back ? y : x} =`}>
          <Exact size="small" className="field-mid" value={at} maxLength={60} status={trouble ? 'error' : ''} onChange={(e) => setAt(e.target.value)} />
        </Labelled>
        {back && line && (
          <Labelled words="mean of">
            <InputNumber
              size="small"
              aria-label="How many readings it is the mean of"
              min={1}
              max={100}
              precision={0}
              value={repeats}
              className="field-tiny"
              onChange={(n) => setRepeats(n ?? 1)}
            />
          </Labelled>
        )}
        <Button size="small" htmlType="submit" disabled={!at.trim()}>
          Read
        </Button>
      </form>
      <p className="quiet read-under" aria-hidden="true">
        {under
          ? `Under the pointer: y = ${under.value.text} at ${under.at}${under.tangent ? `, slope ${under.tangent.text}` : ''}. Press to keep it.`
          : 'or point at the graph, and press'}
      </p>
      <TroubleWords beside>{trouble}</TroubleWords>
      <ul>
        {read.kept.map((r, i) => (
          <li key={i}>
            {r.direction === 'forward' ? 'y' : 'x'} = <b>{r.value.text}</b> at {r.at}{' '}
            <span className={r.extrapolated ? 'read-outside' : 'quiet'}>
              <Typeset text={told(r.words, '; ')} />
            </span>{' '}
            <CollectButton what={r.value.text} kind={r.direction === 'forward' ? 'read_forward' : 'read_back'} of={fit} at={r.at} repeats={r.repeats} />
            {r.tangent && (
              <>
                <br />
                the tangent there is {r.tangent.text} <CollectButton what="the tangent" kind="tangent" of={fit} at={r.at} />
              </>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
