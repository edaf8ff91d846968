// The slope of the fitted curve at every setting, as a derived quantity to be drawn and fitted in turn.
import { Button, Input } from 'antd';
import { useState } from 'react';
import { useBook } from '@/shared/book/context';
import { newId } from '@/shared/book/newId';
import { useSubmit } from '@/shared/book/useSubmit';
import { Labelled } from '@/shared/ui/Labelled';
import { TroubleWords } from '@/shared/ui/TroubleWords';
import { Typeset } from '@/shared/ui/Typeset';
import { Exact } from '@/shared/ui/Exact';

export function TangentForm({ fit }: { fit: string }) {
  const { quantities, analysis, plainSymbolOf } = useBook(({ quantities, analysis, plainSymbolOf }) => ({
    quantities,
    analysis,
    plainSymbolOf,
  }));
  const { submit, busy, refusal } = useSubmit();
  const [name, setName] = useState('');
  const [symbol, setSymbol] = useState('');
  const there = quantities.filter((q) => q.tangent_of === fit);
  const full = name.trim() !== '' && symbol.trim() !== '';
  return (
    <details className="graph-more">
      <summary>Its slope at every setting</summary>
      {there.map((q) => (
        <p key={q.id}>
          {q.name}, <Typeset text={plainSymbolOf(q.id)} />: {analysis.runs[0]?.columns.find((c) => c.quantity === q.id)?.range_text}.{' '}
          <span className="quiet">It is among the derived quantities, and can be put on the axis of a graph.</span>
        </p>
      ))}
      <form
        className="row"
        onSubmit={(e) => {
          e.preventDefault();
          if (!full) return;
          submit({ type: 'add_tangent', quantity: newId('q'), fit, name: name.trim(), symbol: symbol.trim() }, () => {
            setName('');
            setSymbol('');
          });
        }}
      >
        <Labelled words="called">
          <Input size="small" value={name} maxLength={80} placeholder="speed of fall" className="field-mid" onChange={(e) => setName(e.target.value)} />
        </Labelled>
        <Labelled words="symbol">
          <Exact size="small" className="field-tiny" value={symbol} maxLength={30} placeholder="v" onChange={(e) => setSymbol(e.target.value)} />
        </Labelled>
        <Button size="small" htmlType="submit" loading={busy} disabled={!full}>
          Make it a quantity
        </Button>
        <TroubleWords beside>{refusal}</TroubleWords>
      </form>
    </details>
  );
}
