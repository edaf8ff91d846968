// More derived quantities at a press: another unit, the difference from one setting to the next, a rate of change, a formula of one's own.
import { Button, Dropdown, Input } from 'antd';
import { useState } from 'react';
import type { Edit, Quantity } from '@/shared/api/client';
import { useBook, useBookStore } from '@/shared/book/context';
import { newId } from '@/shared/book/newId';
import { useSubmit } from '@/shared/book/useSubmit';
import { Labelled } from '@/shared/ui/Labelled';
import { varyingIn } from '@/shared/book/quantities';
import { SymbolSelect } from '@/shared/ui/SymbolSelect';
import { TroubleWords } from '@/shared/ui/TroubleWords';
import { Typeset } from '@/shared/ui/Typeset';
import { useDraft } from '@/shared/ui/useDraft';
import { Exact } from '@/shared/ui/Exact';

interface Made {
  name: string;
  symbol: string;
  formula: string;
  unit?: string;
}

export function DeriveMore() {
  const { analysis, quantities, plainSymbolOf } = useBook(({ analysis, quantities, plainSymbolOf }) => ({
    analysis,
    quantities,
    plainSymbolOf,
  }));
  const store = useBookStore();
  const columns = analysis.runs[0]?.columns ?? [];
  const taken = new Set(quantities.map((q) => q.symbol));
  const changed = varyingIn(quantities).find((q) => q.kind === 'changed');
  const varying = varyingIn(quantities).filter((q) => isName(q.symbol));
  const [of, setOf] = useState(() => (varying.find((q) => q.kind === 'measured') ?? varying[0])?.id ?? '');
  const [by, setBy] = useState(() => changed?.id ?? varying[0]?.id ?? '');
  const add = (made: Made) => {
    if (!taken.has(made.symbol)) store.edit(derived(made));
  };
  const conversions = columns.flatMap((column) => {
    const quantity = quantities.find((q) => q.id === column.quantity);
    return quantity ? column.other_units.filter((other) => !taken.has(other.symbol)).map((other) => ({ quantity, other })) : [];
  });
  const convert = ({ quantity, other }: (typeof conversions)[number]) =>
    add({ name: `${quantity.name} in ${other.unit}`, symbol: other.symbol, unit: other.unit, formula: quantity.symbol });
  const basic = conversions.filter(({ other }) => other.basic);
  const options = varying.map((q) => ({ value: q.id, label: `${plainSymbolOf(q.id)} ${q.name}` }));
  const find = (id: string) => varying.find((q) => q.id === id);
  const difference = (q: Quantity): Made => ({ name: `change of ${q.name}`, symbol: `Delta(${q.symbol})`, formula: `Delta(${q.symbol})` });
  const y = find(of);
  const x = find(by);
  return (
    <section className="derive-more" aria-label="Derive more">
      <h3>Derive more</h3>
      {conversions.length > 0 && (
        <div className="row">
          <span className="derive-words">in another unit</span>
          {basic.map((c) => (
            <Button key={c.other.symbol} size="small" onClick={() => convert(c)}>
              <Typeset text={c.other.name} />
            </Button>
          ))}
          <Dropdown
            trigger={['click']}
            menu={{
              items: conversions.filter(({ other }) => !other.basic).map((c) => ({ key: c.other.symbol, label: <Typeset text={c.other.name} /> })),
              onClick: ({ key }) => {
                const chosen = conversions.find(({ other }) => other.symbol === key);
                if (chosen) convert(chosen);
              },
            }}
          >
            <Button size="small" type="text">
              another …
            </Button>
          </Dropdown>
        </div>
      )}
      {y && x && varying.length > 1 && (
        <>
          <div className="row">
            <span className="derive-words">from one setting to the next</span>
            <SymbolSelect size="small" aria-label="What changes" value={of} options={options} onChange={setOf} popupMatchSelectWidth={false} />
            <Button size="small" disabled={taken.has(difference(y).symbol)} onClick={() => add(difference(y))}>
              its differences
            </Button>
          </div>
          <div className="row">
            <span className="derive-words">its rate of change with</span>
            <SymbolSelect size="small" aria-label="With what it changes" value={by} options={options} onChange={setBy} popupMatchSelectWidth={false} />
            {ratesOf(y, x).map(({ words, title, made }) => (
              <Button
                key={words}
                size="small"
                title={title}
                disabled={x.id === y.id || made.every((one) => taken.has(one.symbol))}
                onClick={() => made.forEach(add)}
              >
                {words}
              </Button>
            ))}
          </div>
        </>
      )}
      <OwnFormula />
    </section>
  );
}

function derived(made: Made): Edit {
  const none = { value: '', u: '', instrument: null, source: '', unit: '' };
  return { type: 'add_quantity', quantity: newId('q'), kind: 'derived', repeats: 1, holds: 'numbers', ...none, ...made };
}

function isName(symbol: string): boolean {
  return /^[^\W\d]\w*$/u.test(symbol);
}

interface RateWay {
  words: string;
  title: string;
  made: Made[];
}

/** The three ways to a rate. One between two settings belongs to the middle between them, so the two come together. */
function ratesOf(y: Quantity, x: Quantity): RateWay[] {
  const written = (name: string, formula: string): Made => ({ name, symbol: formula, formula });
  const rate = `rate of change of ${y.name}`;
  return [
    {
      words: 'between two settings',
      title: 'From one setting to the next; it belongs to the middle between them.',
      made: [written(`${x.name}, middle between neighbours`, `mid(${x.symbol})`), written(rate, `Delta(${y.symbol})/Delta(${x.symbol})`)],
    },
    {
      words: 'at each setting',
      title: 'From the settings on both sides: the slope of the curve through the three.',
      made: [written(`${rate}, at each setting`, `rate(${y.symbol}, ${x.symbol})`)],
    },
    {
      words: 'smoothed',
      title: 'From five settings: the slope of the curve that lies closest to them. For readings that scatter.',
      made: [written(`${rate}, smoothed`, `smooth_rate(${y.symbol}, ${x.symbol})`)],
    },
  ];
}

function OwnFormula() {
  const { submit, busy, refusal } = useSubmit();
  const { id } = useBook(({ state }) => ({ id: state.id }));
  const [draft, keep] = useDraft<Record<'name' | 'symbol' | 'formula', string>>(`formula ${id}`);
  const written = draft ?? { name: '', symbol: '', formula: '' };
  const { name, symbol, formula } = written;
  const forget = () => keep(null);
  const full = name.trim() && symbol.trim();
  return (
    <form
      className="row"
      onSubmit={(e) => {
        e.preventDefault();
        if (!full) return;
        submit(derived({ name: name.trim(), symbol: symbol.trim(), formula: formula.trim() }), forget, forget);
      }}
    >
      <span className="derive-words">by a formula</span>
      <Labelled words="called">
        <Input
          size="small"
          value={name}
          maxLength={80}
          placeholder="kinetic energy"
          className="field-long"
          onChange={(e) => keep({ ...written, name: e.target.value })}
        />
      </Labelled>
      <Labelled words="symbol">
        <Exact
          size="small"
          className="field-short"
          value={symbol}
          maxLength={30}
          placeholder="E"
          onChange={(e) => keep({ ...written, symbol: e.target.value })}
        />
      </Labelled>
      <Labelled words="=">
        <Exact
          size="small"
          className="field-long"
          value={formula}
          maxLength={400}
          placeholder="m v^2 / 2"
          onChange={(e) => keep({ ...written, formula: e.target.value })}
        />
      </Labelled>
      <Button size="small" htmlType="submit" loading={busy} disabled={!full}>
        Add
      </Button>
      <TroubleWords beside>{refusal}</TroubleWords>
    </form>
  );
}
