// A derived quantity: its formula typeset, unit worked out, range, and what makes most of its uncertainty.
import { Button, Input } from 'antd';
import { useState } from 'react';
import type { ColumnResult, Quantity } from '@/shared/api/client';
import { useBook, useBookStore } from '@/shared/book/context';
import { Maths } from '@/shared/ui/Maths';

export function DerivedCard({ quantity, column }: { quantity: Quantity; column: ColumnResult }) {
  const { state, waiting } = useBook();
  const own = !quantity.given && state.can_edit;
  const onItsWay = waiting.some((w) => w.edit.type === 'define_formula' && w.edit.quantity === quantity.id);
  return (
    <article className={`card derived${column.trouble ? ' broken' : ''}`}>
      <p className="quiet">{quantity.name}</p>
      <div className="derived-formula">
        <Maths tex={column.formula_tex && column.formula_tex !== column.symbol_tex ? `${column.symbol_tex} = ${column.formula_tex}` : column.symbol_tex} block />
      </div>
      {own && <FormulaField quantity={quantity} trouble={onItsWay ? null : (column.trouble ?? null)} />}
      {column.trouble && (!own || column.trouble.at === null || column.trouble.at === undefined) && <p className="notice bad">{column.trouble.message}</p>}
      {!column.trouble && (
        <dl>
          <div>
            <dt>unit</dt>
            <dd>{column.unit || 'a pure number'}</dd>
          </div>
          <div>
            <dt>range</dt>
            <dd className="mono">{column.range_text}</dd>
          </div>
          {column.largest && (
            <div>
              <dt>most of its ±</dt>
              <dd>{column.largest}</dd>
            </div>
          )}
        </dl>
      )}
    </article>
  );
}

function FormulaField({ quantity, trouble }: { quantity: Quantity; trouble: ColumnResult['trouble'] | null }) {
  const store = useBookStore();
  const [draft, setDraft] = useState<string | null>(null);
  const formula = quantity.formula;
  const text = draft ?? formula;
  const at = draft === null || draft === formula ? (trouble?.at ?? null) : null;
  const save = () => {
    if (draft !== null && draft.trim() !== formula) store.edit({ type: 'define_formula', quantity: quantity.id, formula: draft.trim() });
    else setDraft(null);
  };
  if (draft !== null && draft.trim() === formula && draft !== formula) setDraft(null);
  return (
    <form
      className="derived-field"
      onSubmit={(e) => {
        e.preventDefault();
        save();
      }}
    >
      <label htmlFor={`formula-${quantity.id}`}>
        <i>{quantity.symbol}</i> =
      </label>
      <Input
        id={`formula-${quantity.id}`}
        value={text}
        className="mono"
        status={trouble && at !== null ? 'error' : ''}
        maxLength={400}
        placeholder="a formula with the quantities’ symbols"
        onChange={(e) => setDraft(e.target.value)}
        onBlur={save}
        onKeyDown={(e) => {
          if (e.key === 'Escape') setDraft(null);
        }}
        data-dirty={draft !== null && draft !== formula ? 'yes' : 'no'}
      />
      {draft !== null && draft.trim() !== formula && (
        <Button size="small" htmlType="submit">
          Write
        </Button>
      )}
      {trouble && at !== null && (
        <p className="derived-trouble" role="alert">
          {formula && (
            <span className="mono derived-place" aria-hidden="true">
              {formula.slice(0, at)}
              <b>{formula.slice(at, at + 1) || '▏'}</b>
              {formula.slice(at + 1)}
            </span>
          )}
          {trouble.message}
        </p>
      )}
    </form>
  );
}
