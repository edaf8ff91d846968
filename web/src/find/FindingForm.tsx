// Writing a finding: what it is called, what it is made of, its formula, and a value to compare it with; shown as it is written.
import { useQuery } from '@tanstack/react-query';
import { Button, Input } from 'antd';
import { useEffect, useRef, useState } from 'react';
import { type Schemas, client, get } from '@/shared/api/client';
import { changeFinding } from '@/shared/book/choices';
import { useBook, useBookStore } from '@/shared/book/context';
import { newId } from '@/shared/book/newId';
import { useSubmit } from '@/shared/book/useSubmit';
import { Labelled } from '@/shared/ui/Labelled';
import { Maths } from '@/shared/ui/Maths';
import { Rich } from '@/shared/ui/Rich';
import { asItWas, keepDraft, readDraft } from '@/shared/ui/useDraft';
import { useSettled } from '@/shared/ui/useSettled';
import { TroubleWords } from '@/shared/ui/TroubleWords';
import { IngredientRow } from './IngredientRow';
import { type Ingredient, blank, nameFor, named } from './ingredients';
import { Exact } from '@/shared/ui/Exact';

type Finding = Schemas['Finding'];

/** What has been changed of a finding, as it was then. */
interface Draft {
  of: Finding;
  changes: Partial<Schemas['FindingIn']>;
}

const draftOf = (book: number, finding: string) => `finding of ${book} ${finding}`;

/** Whether a change of it has been begun and neither been sent nor left. */
export const isChangeBegun = (book: number, finding: string) => readDraft(draftOf(book, finding)) !== null;

interface Props {
  finding: Finding | null;
  /** What was picked on graphs for it. */
  collected: readonly Ingredient[];
  /** Nothing else on the page has a title. */
  alone: boolean;
  onDone: () => void;
}

export function FindingForm({ finding: opened, collected, alone, onDone }: Props) {
  const Title = alone ? 'h1' : 'h2';
  const { state, run, quantities, fits, draft } = useBook(({ state, run, quantities, fits, draft }) => ({
    state,
    run,
    quantities,
    fits,
    draft,
  }));
  const store = useBookStore();
  const { submit, busy, refusal } = useSubmit();
  const [change] = useState(() => opened && (readDraft(draftOf(state.id, opened.id)) as Draft | null));
  // what somebody else changes meanwhile is not taken back
  const [finding] = useState(() => (opened && change ? asItWas(opened, change.of, Object.keys(change.changes) as (keyof Finding)[]) : opened));
  const begun = finding ? { ...finding, ...change?.changes } : draft;
  const [uses, setUses] = useState<Ingredient[]>(() => named([...(begun?.uses ?? []).map((u) => ({ ...u })), ...collected], quantities));
  const [name, setName] = useState(begun?.name ?? '');
  const [symbol, setSymbol] = useState(begun?.symbol ?? '');
  const [unit, setUnit] = useState(begun?.unit ?? '');
  const [formula, setFormula] = useState(begun?.formula ?? (uses.length === 1 ? (uses[0]?.symbol ?? '') : ''));
  const [accepted, setAccepted] = useState(begun?.accepted ?? { value: '', u: '', source: '' });
  const fit = finding?.fit ?? '';
  const content: Schemas['FindingIn'] = {
    name: name.trim() || 'this',
    symbol: symbol.trim() || 'w',
    unit: unit.trim(),
    formula,
    fit,
    accepted: accepted.value.trim() ? accepted : null,
    uses,
    compare: [...(finding?.compare ?? [])],
  };
  // what is written is kept when its page is left, for a number is often fetched from another one
  const latest = useRef<(() => void) | null>(null);
  useEffect(() => {
    latest.current = () => {
      if (finding) keepDraft(draftOf(state.id, finding.id), changesOf(finding, { ...content, name, symbol }));
      else if (name || symbol || formula || uses.length) store.keepDraft({ ...content, name, symbol });
    };
  });
  useEffect(() => {
    const keep = () => latest.current?.();
    window.addEventListener('pagehide', keep);
    return () => {
      window.removeEventListener('pagehide', keep);
      keep();
    };
  }, [store]);
  const forget = () => {
    latest.current = null;
    if (finding) keepDraft(draftOf(state.id, finding.id), null);
    else store.endDraft();
  };
  const end = () => {
    forget();
    onDone();
  };
  const settled = useSettled(JSON.stringify(content), 200);
  const preview = useQuery({
    queryKey: ['finding-preview', state.id, state.revision, run, settled],
    queryFn: () =>
      get(
        client.POST('/api/books/{book_id}/finding-preview', {
          params: { path: { book_id: state.id }, query: { run } },
          body: JSON.parse(settled) as Schemas['FindingIn'],
        }),
      ),
    enabled: formula.trim() !== '' && uses.every((u) => u.symbol && u.of),
    placeholderData: (before) => before,
    retry: false,
  });
  const shown = formula.trim() ? preview.data : undefined;
  // a formula is not wrong because nothing has been measured yet
  const unmeasured = shown?.trouble?.fields?.lacks === 'fit';
  const ready = name.trim() !== '' && symbol.trim() !== '' && formula.trim() !== '';
  const add = () => {
    const next = blank('fit', fits[0]?.id ?? '');
    setUses([
      ...uses,
      {
        ...next,
        part: 'gradient',
        symbol: nameFor(
          next,
          uses.map((u) => u.symbol),
          quantities,
        ),
      },
    ]);
  };
  const save = () => {
    submit(finding ? changeFinding(finding, content) : { type: 'add_finding', finding: newId('w'), content }, end, forget);
  };
  return (
    <form
      className="card find-form"
      aria-label={finding ? `Change ${finding.name}` : 'A finding of your own'}
      onSubmit={(e) => {
        e.preventDefault();
        if (ready) save();
      }}
    >
      <Title className="find-form-title">{finding ? 'Change this finding' : 'A finding of your own'}</Title>
      <div className="row">
        <Labelled words="called">
          <Input autoFocus value={name} maxLength={80} placeholder="heat given by the bolt" className="field-long" onChange={(e) => setName(e.target.value)} />
        </Labelled>
        <Labelled words="symbol">
          <Exact className="field-short" value={symbol} maxLength={30} placeholder="Q" onChange={(e) => setSymbol(e.target.value)} />
        </Labelled>
        <Labelled words="in">
          <Exact className="field-mid" value={unit} maxLength={80} placeholder="as it comes" onChange={(e) => setUnit(e.target.value)} />
        </Labelled>
      </div>
      <fieldset className="find-uses">
        <legend className="quiet">What it is made of, besides the constants of this lab book</legend>
        {uses.map((u, at) => (
          <IngredientRow
            key={at}
            ingredient={u}
            onChange={(next) => setUses(uses.map((other, i) => (i === at ? next : other)))}
            onRemove={() => setUses(uses.filter((_, i) => i !== at))}
          />
        ))}
        <Button size="small" onClick={add}>
          Add a number
        </Button>
      </fieldset>
      <div className="row">
        <Labelled words={`${symbol || '…'} =`}>
          <Exact
            className="field-wide"
            value={formula}
            maxLength={400}
            placeholder="m_w c_w (theta_2 - theta_1)"
            status={shown?.trouble && !unmeasured ? 'error' : ''}
            onChange={(e) => setFormula(e.target.value)}
          />
        </Labelled>
      </div>
      <div className="row">
        <Labelled words="accepted value, if there is one">
          <Exact className="field-short" value={accepted.value} maxLength={60} onChange={(e) => setAccepted({ ...accepted, value: e.target.value })} />
        </Labelled>
        <Labelled words="±">
          <Exact className="field-short" value={accepted.u} maxLength={60} onChange={(e) => setAccepted({ ...accepted, u: e.target.value })} />
        </Labelled>
        <Labelled words="from">
          <Input
            value={accepted.source}
            maxLength={200}
            placeholder="who says so"
            className="field-long"
            onChange={(e) => setAccepted({ ...accepted, source: e.target.value })}
          />
        </Labelled>
      </div>
      <div className="find-preview" aria-live="polite">
        {preview.isError && <TroubleWords beside>{preview.error.message}</TroubleWords>}
        {shown?.trouble && (unmeasured ? <p className="quiet">{shown.trouble.message}</p> : <TroubleWords beside>{shown.trouble.message}</TroubleWords>)}
        {shown?.value && (
          <>
            <Maths tex={shown.numbers_tex} block />
            <p>
              <Rich text={shown.symbol} /> = <b>{shown.value.text}</b>
              {shown.used.map((u, i) => (
                <span key={i} className="quiet">
                  ; <Rich text={u.symbol} /> = {u.value.text}
                </span>
              ))}
            </p>
          </>
        )}
      </div>
      {change && <p className="quiet">This is what you had begun to write.</p>}
      <TroubleWords beside>{refusal}</TroubleWords>
      <div className="row">
        <Button type="primary" htmlType="submit" loading={busy} disabled={!ready}>
          {finding ? 'Write it so' : 'Keep this finding'}
        </Button>
        <Button type="text" onClick={end}>
          Leave it
        </Button>
      </div>
    </form>
  );
}

function changesOf(finding: Finding, content: Schemas['FindingIn']): Draft | null {
  const { was, becomes } = changeFinding(finding, content);
  const names = (Object.keys(becomes) as (keyof typeof becomes)[]).filter((name) => JSON.stringify(was[name]) !== JSON.stringify(becomes[name]));
  return names.length ? { of: finding, changes: Object.fromEntries(names.map((name) => [name, becomes[name]])) } : null;
}
