// A derived quantity: its formula typeset, unit worked out, range, and what makes most of its uncertainty.
import { Button, type InputRef } from 'antd';
import { useRef } from 'react';
import { type ColumnResult, type Quantity } from '@/shared/api/client';
import { useBook, useBookStore } from '@/shared/book/context';
import { FormulaPreview, usePreview } from '@/shared/book/FormulaPreview';
import { isWorded } from '@/shared/book/quantities';
import { Maths } from '@/shared/ui/Maths';
import { Rich } from '@/shared/ui/Rich';
import { Typeset } from '@/shared/ui/Typeset';
import { DigitsChoice } from './DigitsChoice';
import { Exact } from '@/shared/ui/Exact';
import { useTyped } from '@/shared/ui/useTyped';

export function DerivedCard({ quantity, column }: { quantity: Quantity; column: ColumnResult }) {
  const { state, waiting } = useBook(({ state, waiting }) => ({ state, waiting }));
  const store = useBookStore();
  const own = !quantity.given && state.can_edit;
  const onItsWay = waiting.some((w) => w.edit.type === 'define_formula' && w.edit.quantity === quantity.id);
  return (
    <article className={`card derived${column.trouble ? ' broken' : ''}`}>
      <p className="quiet derived-name">
        {quantity.name}
        {own && (
          <Button size="small" type="text" onClick={() => store.edit({ type: 'remove_quantity', quantity: quantity.id }, `${quantity.name} was removed.`)}>
            Remove
          </Button>
        )}
      </p>
      <div className="derived-formula">
        <Maths
          tex={column.formula_tex && !saysItself(quantity, column) ? `${column.symbol_tex} = ${column.formula_tex}` : column.formula_tex || column.symbol_tex}
          block
        />
      </div>
      {quantity.tangent_of && <p className="quiet">the slope of a fitted curve at every setting</p>}
      {quantity.result_of && <p className="quiet">what each run has given</p>}
      {own && !quantity.tangent_of && !quantity.result_of && <FormulaField quantity={quantity} trouble={onItsWay ? null : (column.trouble ?? null)} />}
      {column.trouble && (!own || column.trouble.at === null || column.trouble.at === undefined) && <p className="notice">{column.trouble.message}</p>}
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
          <DigitsChoice quantity={quantity} />
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

/** What is called by its own formula (Δt/Δh) says it once. */
function saysItself(quantity: Quantity, column: ColumnResult): boolean {
  return quantity.symbol === quantity.formula || column.formula_tex === column.symbol_tex;
}

const NATURE = {
  pi: 'π, the circle’s circumference over its diameter',
  g_n: 'standard acceleration of free fall',
  c: 'speed of light',
  R: 'molar gas constant',
  N_A: 'Avogadro constant',
  k_B: 'Boltzmann constant',
  h: 'Planck constant',
  e: 'elementary charge',
};

function FormulaField({ quantity, trouble }: { quantity: Quantity; trouble: ColumnResult['trouble'] | null }) {
  const { analysis, state, quantities, symbolOf } = useBook(({ analysis, state, quantities, symbolOf }) => ({ analysis, state, quantities, symbolOf }));
  const store = useBookStore();
  const field = useRef<InputRef>(null);
  const typed = useTyped(quantity.formula);
  const { now: text, was } = typed;
  const drafting = typed.typing && text.trim() !== was;
  const preview = usePreview({ quantity: quantity.id, symbol: quantity.symbol }, drafting ? text.trim() : '');
  const wrong = drafting ? (preview?.trouble ?? null) : trouble;
  const at = wrong?.at ?? null;
  const save = () => {
    if (!drafting) {
      if (typed.typing) typed.forget();
      return;
    }
    typed.send();
    store.edit({ type: 'define_formula', quantity: quantity.id, formula: text.trim(), was });
  };
  /** Put a symbol in where the cursor is, and leave the cursor behind it, or so many signs before its end. */
  const pick = (symbol: string, before = 0) => {
    const input = field.current?.input;
    const start = input?.selectionStart ?? text.length;
    const end = input?.selectionEnd ?? start;
    const gap = start > 0 && /[A-Za-z0-9_)]$/.test(text.slice(0, start)) ? ' ' : '';
    typed.type(text.slice(0, start) + gap + symbol + text.slice(end));
    const cursor = start + gap.length + symbol.length - before;
    window.setTimeout(() => {
      input?.focus();
      input?.setSelectionRange(cursor, cursor);
    });
  };
  // a symbol of the lab book's own hides the constant of nature that is called so
  const constants = Object.entries(NATURE).filter(([name]) => !quantities.some((q) => q.symbol === name));
  const symbols = quantities.filter((q) => q.id !== quantity.id && !isWorded(q) && /^[^\W\d]\w*$/u.test(q.symbol));
  return (
    <form
      className="derived-field"
      onSubmit={(e) => {
        e.preventDefault();
        save();
      }}
    >
      <label htmlFor={`formula-${quantity.id}`}>
        <Rich text={symbolOf(quantity.id)} /> =
      </label>
      <Exact
        ref={field}
        id={`formula-${quantity.id}`}
        value={text}
        status={wrong && at !== null ? 'error' : ''}
        maxLength={400}
        placeholder="a formula with the quantities’ symbols"
        onChange={(e) => typed.type(e.target.value)}
        onKeyDown={(e) => {
          if (e.key === 'Escape') typed.forget();
        }}
        onBlur={(e) => {
          if (!e.currentTarget.form?.contains(e.relatedTarget)) save();
        }}
        data-dirty={drafting ? 'yes' : 'no'}
      />
      {drafting && (
        <Button size="small" htmlType="submit">
          Write
        </Button>
      )}
      <div className="symbol-picks" aria-label="Symbols to put in">
        {symbols.map((q) => (
          <button key={q.id} type="button" tabIndex={-1} title={q.name} onMouseDown={(e) => e.preventDefault()} onClick={() => pick(q.symbol)}>
            <Rich text={symbolOf(q.id)} />
          </button>
        ))}
        {analysis.tables.map((t) => {
          const table = state.document.plan.tables.find((known) => known.id === t.table);
          return table?.symbol ? (
            <button
              key={t.table}
              type="button"
              tabIndex={-1}
              title={`looked up in “${table.name}”`}
              onMouseDown={(e) => e.preventDefault()}
              onClick={() => pick(`${table.symbol}()`, 1)}
            >
              <Rich text={t.symbol} />( )
            </button>
          ) : null;
        })}
        {constants.map(([name, words]) => (
          <button key={name} type="button" tabIndex={-1} title={words} onMouseDown={(e) => e.preventDefault()} onClick={() => pick(name)}>
            {name === 'pi' ? 'π' : <Typeset text={name} />}
          </button>
        ))}
      </div>
      <FormulaPreview text={text} column={drafting ? preview : undefined} wrong={wrong} />
    </form>
  );
}
