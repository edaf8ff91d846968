// Which columns of a file are wanted, what each one is, and where they go; a file of a format that was brought in before is taken as then.
import { v4 as newUuid } from 'uuid';
import { Button, Checkbox, Input, InputNumber, Segmented } from 'antd';
import { useState } from 'react';
import { type Schemas, upload } from '@/shared/api/client';
import { useBook, useBookStore } from '@/shared/book/context';
import { readIn } from '@/shared/book/quantities';
import { Labelled } from '@/shared/ui/Labelled';
import { SymbolSelect } from '@/shared/ui/SymbolSelect';
import { type Choice, type ColumnLook, type FileLook, type SheetLook, begin, describe, headingsOf, isLong, nameNew, readTarget, write } from './bringing';
import { type Remembered, recallFormat, rememberFormat } from './formats';

type Into = 'new' | 'add' | 'replace';

export function BringChoices({
  file,
  look,
  onTrouble,
  onClose,
  onOther,
}: {
  file: File;
  look: FileLook;
  onTrouble: (words: string) => void;
  onClose: () => void;
  onOther: () => void;
}) {
  const { state, quantities, run, plainSymbolOf } = useBook(({ state, quantities, run, plainSymbolOf }) => ({
    state,
    quantities,
    run,
    plainSymbolOf,
  }));
  const store = useBookStore();
  const [sheet, setSheet] = useState(0);
  const found = look.sheets[sheet];
  const read = readIn(quantities);
  const recall = (of: SheetLook | undefined) => (of ? recallFormat(headingsOf(of), read) : null);
  // what was found when the file came: what is remembered of this very file later changes nothing here
  const [asBefore, setAsBefore] = useState(() => recall(found));
  const [choices, setChoices] = useState<Choice[]>(() => begin(found, asBefore));
  // a table in which nothing stands yet is what is filled
  const here = state.document.runs.find((r) => r.id === run);
  const isBlank = here !== undefined && !here.log && here.settings.every((s) => Object.keys(s.readings ?? {}).length === 0);
  const [into, setInto] = useState<Into>(isBlank ? 'replace' : 'new');
  const [name, setName] = useState('');
  const [every, setEvery] = useState(asBefore?.every ?? 1);
  const [logged, setLogged] = useState(asBefore?.logged ?? isLong(found));
  const [busy, setBusy] = useState(false);
  const known = read.flatMap((q) =>
    Array.from({ length: q.repeats }, (_, repeat) => ({
      value: write({ quantity: q.id, repeat, is_u: false }),
      label: q.repeats > 1 ? `${plainSymbolOf(q.id)}, repeat ${repeat + 1}` : [...new Set([plainSymbolOf(q.id), q.name])].join(' '),
    })),
  );
  const free = state.document.freedoms;
  const targetsOf = (column: ColumnLook) => {
    const { target, heading, index } = column;
    const own = target?.quantity.startsWith('new:') ? [{ value: write(target), label: nameNew(target, found?.columns ?? []) }] : [];
    const fresh = { value: write({ quantity: `new:${index}`, repeat: 0, is_u: false }), label: `a new one: ${heading}` };
    const us = read.map((q) => ({ value: write({ quantity: q.id, repeat: 0, is_u: true }), label: `the ± of ${plainSymbolOf(q.id)}` }));
    return [...known, ...own, ...(heading && free.own_quantities && own[0]?.value !== fresh.value ? [fresh] : []), ...us];
  };
  const take = (of: SheetLook | undefined, before: Remembered | null) => {
    setAsBefore(before);
    setChoices(begin(of, before));
    setEvery(before?.every ?? 1);
    setLogged(before?.logged ?? isLong(of));
  };
  const change = (index: number, part: Partial<Choice>) => setChoices(choices.map((c, i) => (i === index ? { ...c, ...part } : c)));
  const ticked = choices.filter((c) => c.ticked && c.target).length;
  const remember = () => {
    const columns = choices.map((c) => {
      if (!c.ticked || !c.target) return null;
      const { quantity, repeat, is_u } = readTarget(c.target);
      const of = read.find((q) => q.id === quantity);
      return of ? { symbol: of.symbol, repeat, is_u } : undefined;
    });
    // a quantity that has come with the file is found by its heading the next time
    if (found && columns.every((c) => c !== undefined)) rememberFormat({ headings: headingsOf(found), columns, logged, every });
  };
  const bring = () => {
    setBusy(true);
    onTrouble('');
    const columns = choices.flatMap((c, index) => {
      if (!c.ticked || !c.target) return [];
      return [{ index, ...readTarget(c.target), unit: found?.columns[index]?.unit ?? '' }];
    });
    const form = new FormData();
    form.append('file', file);
    form.append('choices', JSON.stringify({ client_id: newUuid(), sheet, columns, into, run, name, every, logged }));
    upload<Schemas['BroughtIn']>('/api/books/{book_id}/bring-in', form, state.id)
      .then((done) => {
        remember();
        return store.chooseRun(done.run);
      })
      .then(onClose)
      .catch((e: unknown) => onTrouble(e instanceof Error ? e.message : ''))
      .finally(() => setBusy(false));
  };
  if (!found) return null;
  return (
    <div className="stack">
      <p className="row">
        <span>
          <b>{file.name}</b>: {look.words}, {found.rows} {found.rows === 1 ? 'row' : 'rows'}.
        </span>
        {look.sheets.length > 1 && (
          <SymbolSelect
            aria-label="Sheet"
            value={sheet}
            popupMatchSelectWidth={false}
            options={look.sheets.map((s, i) => ({ value: i, label: s.name }))}
            onChange={(i: number) => {
              setSheet(i);
              take(look.sheets[i], recall(look.sheets[i]));
            }}
          />
        )}
        <Button size="small" type="text" onClick={onOther}>
          Another file
        </Button>
      </p>
      {asBefore && (
        <p className="row">
          <span role="note">A file with these headings was brought in on this device before: the columns are chosen as they were then.</span>
          <Button size="small" type="text" onClick={() => take(found, null)}>
            Choose anew
          </Button>
        </p>
      )}
      <div className="bring-columns">
        {found.columns.map((column, i) => (
          <div key={column.index} className={`bring-column${choices[i]?.ticked ? ' ticked' : ''}`}>
            <Checkbox checked={choices[i]?.ticked} onChange={(e) => change(i, { ticked: e.target.checked })}>
              {column.heading || `column ${column.index + 1}`}
              {column.unit && <span className="quiet"> / {column.unit}</span>}
            </Checkbox>
            <SymbolSelect
              size="small"
              aria-label={`What column ${column.index + 1} is`}
              placeholder="is which quantity?"
              value={choices[i]?.target || undefined}
              options={targetsOf(column)}
              popupMatchSelectWidth={false}
              onChange={(target: string) => change(i, { target, ticked: true })}
            />
            <ol className="mono">
              {column.first.map((text, k) => (
                <li key={k}>{text || '·'}</li>
              ))}
            </ol>
            <p className="quiet">{describe(column, found.rows)}</p>
          </div>
        ))}
      </div>
      <div className="row">
        <Labelled words="They go" group>
          <Segmented<Into>
            aria-label="Where they go"
            value={into}
            onChange={setInto}
            options={[
              { value: 'new', label: 'into a new run' },
              { value: 'add', label: 'below this run', disabled: logged },
              { value: 'replace', label: 'in place of this run' },
            ]}
          />
        </Labelled>
        {into === 'new' && (
          <Input
            className="field-long"
            value={name}
            maxLength={80}
            placeholder="name of the run"
            aria-label="Name of the run"
            onChange={(e) => setName(e.target.value)}
          />
        )}
        <Labelled words="as" group>
          <Segmented<boolean>
            aria-label="What they are"
            value={logged}
            onChange={setLogged}
            options={[
              { value: false, label: 'readings to work on' },
              { value: true, label: 'what a logger wrote' },
            ]}
          />
        </Labelled>
        <Labelled words="every" group>
          <InputNumber min={1} max={1000} value={every} className="field-tiny" aria-label="Every how manieth row" onChange={(n) => setEvery(n ?? 1)} />
          <span className="quiet">{every === 1 ? 'row' : `${every}th row only`}</span>
        </Labelled>
        <Button type="primary" disabled={ticked === 0} loading={busy} onClick={bring}>
          Bring in {ticked} {ticked === 1 ? 'column' : 'columns'}
        </Button>
      </div>
      {logged && (
        <p className="quiet">
          A logger’s rows are kept as they are: they are looked at, drawn and fitted, and stretches can be set aside, but single values are not edited.
        </p>
      )}
      {into === 'replace' && !isBlank && <p className="quiet">What the run holds now stays in the history, and one undo brings it back.</p>}
    </div>
  );
}
