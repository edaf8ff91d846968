// Read: the ruled table in which readings are written down.
import { Segmented } from 'antd';
import { useState } from 'react';
import { useBook } from '@/shared/book/context';
import { RuledTable } from './RuledTable';
import './read.css';

type Direction = 'down' | 'across';
const REMEMBERED = 'hobrel:enter-moves';

export function Read() {
  const { state, quantities } = useBook();
  const [direction, setDirection] = useState<Direction>(() => (localStorage.getItem(REMEMBERED) === 'across' ? 'across' : 'down'));
  const run = state.document.runs[0];
  const columns = quantities.filter((q) => q.kind === 'changed' || q.kind === 'measured');
  if (!run || columns.length === 0) return <p className="notice">The plan of this practical has nothing to measure yet.</p>;
  return (
    <>
      <div className="stage-head">
        <h1>{run.name || 'Readings'}</h1>
        <div className="row read-direction">
          <span className="quiet" id="enter-moves">
            Enter moves
          </span>
          <Segmented<Direction>
            aria-labelledby="enter-moves"
            value={direction}
            options={[
              { value: 'down', label: '↓ down' },
              { value: 'across', label: '→ across' },
            ]}
            onChange={(d) => {
              setDirection(d);
              localStorage.setItem(REMEMBERED, d);
            }}
          />
        </div>
      </div>
      <RuledTable run={run.id} columns={columns} direction={direction} editable={state.can_edit} />
      <p className="quiet read-hint">
        {state.can_edit
          ? 'Write every reading as you see it, with all its digits: 2.50 stays 2.50. A block copied from elsewhere can be pasted into any cell.'
          : 'You are looking at this bench’s readings. Leave a remark in the margin; they change them themselves.'}
      </p>
    </>
  );
}
