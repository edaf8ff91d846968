// Moments of a graph: what happened at a value along x, as an upright line on every graph that has this quantity there.
import { Button, Input } from 'antd';
import { useState } from 'react';
import type { Schemas } from '@/shared/api/client';
import { useBook, useBookStore } from '@/shared/book/context';
import { withMark } from '@/shared/book/decimalMark';
import { newId } from '@/shared/book/newId';
import { useSubmit } from '@/shared/book/useSubmit';
import { Labelled } from '@/shared/ui/Labelled';
import { readNumber } from '@/shared/ui/readNumber';
import { TroubleWords } from '@/shared/ui/TroubleWords';
import { withUnit } from '@/shared/ui/withUnit';
import { Typeset } from '@/shared/ui/Typeset';
import { Exact } from '@/shared/ui/Exact';
import { NumberTrouble } from '@/shared/ui/NumberTrouble';

/** `shown`: those that lie within what is shown. */
export function Moments({ graph, unit, shown }: { graph: Schemas['Graph']; unit: string; shown: Schemas['FigureMoment'][] }) {
  const { state, plainSymbolOf } = useBook(({ state, plainSymbolOf }) => ({ state, plainSymbolOf }));
  const store = useBookStore();
  const { submit, busy, refusal } = useSubmit();
  const [adding, setAdding] = useState(false);
  const [name, setName] = useState('');
  const [at, setAt] = useState('');
  const moments = state.document.moments.filter((m) => m.of === graph.x);
  const value = readNumber(at);
  const symbol = plainSymbolOf(graph.x);
  return (
    <div className="look-moments">
      {moments.length > 0 && (
        <ul aria-label="Moments on this graph">
          {moments.map((m) => (
            <li key={m.id} className="row">
              {m.name} at <Typeset text={symbol} /> = {withUnit(withMark(String(m.at), state.document.convention.decimal_mark), unit)}
              {!shown.some((s) => s.id === m.id) && <span className="quiet">(outside what is shown)</span>}
              {state.can_edit && (
                <Button size="small" type="text" danger onClick={() => store.edit({ type: 'remove_moment', moment: m.id }, `${m.name} was taken away.`)}>
                  Take {m.name} away
                </Button>
              )}
            </li>
          ))}
        </ul>
      )}
      {!state.can_edit ? null : adding ? (
        <form
          className="row"
          onSubmit={(e) => {
            e.preventDefault();
            if (!name.trim() || value === null || Number.isNaN(value)) return;
            submit({ type: 'add_moment', moment: newId('m'), name: name.trim(), of: graph.x, at: value }, () => {
              setAdding(false);
              setName('');
              setAt('');
            });
          }}
          onKeyDown={(e) => {
            if (e.key === 'Escape') setAdding(false);
          }}
        >
          <Labelled words="what happened">
            <Input size="small" autoFocus value={name} maxLength={40} placeholder="release" onChange={(e) => setName(e.target.value)} />
          </Labelled>
          <Labelled words={`at ${symbol}${unit ? `, in ${unit}` : ''}`}>
            <Exact size="small" value={at} maxLength={20} status={at && Number.isNaN(value ?? 0) ? 'error' : ''} onChange={(e) => setAt(e.target.value)} />
          </Labelled>
          <Button size="small" htmlType="submit" loading={busy} disabled={!name.trim() || value === null || Number.isNaN(value)}>
            Mark it
          </Button>
          <NumberTrouble typed={[at]} />
          <TroubleWords beside>{refusal}</TroubleWords>
        </form>
      ) : (
        <Button size="small" onClick={() => setAdding(true)}>
          Mark a moment
        </Button>
      )}
    </div>
  );
}
