// Bring in: a file or the clipboard is looked over first; people tick the few columns they want and say what each one is.
import { v4 as newUuid } from 'uuid';
import { Button, Checkbox, Input, InputNumber, Segmented, Select } from 'antd';
import { useCallback, useEffect, useRef, useState } from 'react';
import { type Schemas, upload } from '@/shared/api/client';
import { useBook, useBookStore } from '@/shared/book/context';
import { Labelled } from '@/shared/ui/Labelled';
import { Sheet } from '@/shared/ui/Sheet';

type FileLook = Schemas['FileLook'];
type ColumnLook = Schemas['ColumnLook'];
type Into = 'new' | 'add' | 'replace';

/** `text`: what was pasted elsewhere and is to be brought in by its headings. */
export function BringIn({ text, onClose }: { text: string; onClose: () => void }) {
  const { state } = useBook(({ state }) => ({ state }));
  const [file, setFile] = useState<File | null>(null);
  const [look, setLook] = useState<FileLook | null>(null);
  const [trouble, setTrouble] = useState('');
  const [pasted, setPasted] = useState(text);
  const looked = useRef(false);
  const [over, setOver] = useState(false);
  const take = useCallback(
    (chosen: File) => {
      setTrouble('');
      const form = new FormData();
      form.append('file', chosen);
      upload<FileLook>(`/api/books/${state.id}/bring-in/look`, form)
        .then((found) => {
          setFile(chosen);
          setLook(found);
        })
        .catch((e: unknown) => setTrouble(e instanceof Error ? e.message : ''));
    },
    [state.id],
  );
  useEffect(() => {
    if (!text || looked.current) return;
    looked.current = true;
    take(asFile(text));
  }, [take, text]);
  return (
    <Sheet title="Bring readings in" onClose={onClose}>
      {trouble && (
        <p className="notice bad" role="alert" style={{ marginBottom: 12 }}>
          {trouble}
        </p>
      )}
      {!look || !file ? (
        <div className="bring-start">
          <label
            className={`bring-drop${over ? ' over' : ''}`}
            onDragOver={(e) => {
              e.preventDefault();
              setOver(true);
            }}
            onDragLeave={() => setOver(false)}
            onDrop={(e) => {
              e.preventDefault();
              setOver(false);
              const dropped = e.dataTransfer.files[0];
              if (dropped) take(dropped);
            }}
          >
            <input
              type="file"
              accept=".csv,.tsv,.txt,.xlsx,.ods,.json,text/*"
              onChange={(e) => {
                const chosen = e.target.files?.[0];
                if (chosen) take(chosen);
              }}
            />
            <b>Choose a file, or drop it here</b>
            <span className="quiet">CSV, text with tabs, XLSX, ODS, or a Hobrel lab book</span>
          </label>
          <form
            className="bring-paste"
            onSubmit={(e) => {
              e.preventDefault();
              if (pasted.trim()) take(asFile(pasted));
            }}
          >
            <label htmlFor="bring-text">or paste a table</label>
            <Input.TextArea
              id="bring-text"
              className="mono"
              rows={5}
              value={pasted}
              onChange={(e) => setPasted(e.target.value)}
              placeholder={'L (m)\tt1\tt2\n0.300\t3.57\t3.61'}
            />
            <Button htmlType="submit" disabled={!pasted.trim()}>
              Look it over
            </Button>
          </form>
        </div>
      ) : (
        <Choices file={file} look={look} onTrouble={setTrouble} onClose={onClose} onOther={() => setLook(null)} />
      )}
    </Sheet>
  );
}

function asFile(text: string): File {
  return new File([text], 'pasted.txt', { type: 'text/plain' });
}

/** Nobody writes down more rows than this by hand. */
const LIKELY_LOGGED = 100;

interface Choice {
  ticked: boolean;
  target: string;
}

/** A quantity, which of its repeats, and whether it is their ±, as one text. */
function write({ quantity, repeat, is_u }: Schemas['Target']): string {
  return JSON.stringify([quantity, repeat, is_u]);
}

function startOf(column: ColumnLook): Choice {
  return { ticked: column.target !== null, target: column.target ? write(column.target) : '' };
}

function Choices({
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
  const [choices, setChoices] = useState<Choice[]>(() => (found?.columns ?? []).map(startOf));
  // a table in which nothing stands yet is what is filled
  const here = state.document.runs.find((r) => r.id === run);
  const isBlank = here !== undefined && !here.log && here.settings.every((s) => Object.keys(s.readings ?? {}).length === 0);
  const [into, setInto] = useState<Into>(isBlank ? 'replace' : 'new');
  const [name, setName] = useState('');
  const [every, setEvery] = useState(1);
  const [logged, setLogged] = useState((found?.rows ?? 0) > LIKELY_LOGGED);
  const [busy, setBusy] = useState(false);
  const read = quantities.filter((q) => q.kind === 'changed' || q.kind === 'measured');
  const known = read.flatMap((q) =>
    Array.from({ length: q.repeats }, (_, repeat) => ({
      value: write({ quantity: q.id, repeat, is_u: false }),
      label: `${plainSymbolOf(q.id)}${q.repeats > 1 ? `, repeat ${repeat + 1}` : ` ${q.name}`}`,
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
  const change = (index: number, part: Partial<Choice>) => setChoices(choices.map((c, i) => (i === index ? { ...c, ...part } : c)));
  const ticked = choices.filter((c) => c.ticked && c.target).length;
  const bring = () => {
    setBusy(true);
    onTrouble('');
    const columns = choices.flatMap((c, index) => {
      if (!c.ticked || !c.target) return [];
      const [quantity, repeat, is_u] = JSON.parse(c.target) as [string, number, boolean];
      return [{ index, quantity, repeat, is_u, unit: found?.columns[index]?.unit ?? '' }];
    });
    const form = new FormData();
    form.append('file', file);
    form.append('choices', JSON.stringify({ client_id: newUuid(), sheet, columns, into, run, name, every, logged }));
    upload<Schemas['BroughtIn']>(`/api/books/${state.id}/bring-in`, form)
      .then((done) => store.chooseRun(done.run))
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
          <Select
            aria-label="Sheet"
            value={sheet}
            popupMatchSelectWidth={false}
            options={look.sheets.map((s, i) => ({ value: i, label: s.name }))}
            onChange={(i: number) => {
              setSheet(i);
              setChoices((look.sheets[i]?.columns ?? []).map(startOf));
            }}
          />
        )}
        <Button size="small" type="text" onClick={onOther}>
          Another file
        </Button>
      </p>
      <div className="bring-columns">
        {found.columns.map((column, i) => (
          <div key={column.index} className={`bring-column${choices[i]?.ticked ? ' ticked' : ''}`}>
            <Checkbox checked={choices[i]?.ticked} onChange={(e) => change(i, { ticked: e.target.checked })}>
              {column.heading || `column ${column.index + 1}`}
              {column.unit && <span className="quiet"> / {column.unit}</span>}
            </Checkbox>
            <Select
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
            style={{ width: 220 }}
            value={name}
            maxLength={80}
            placeholder="name of the run"
            aria-label="Name of the run"
            onChange={(e) => setName(e.target.value)}
          />
        )}
        <Labelled words="as" group>
          <Segmented<boolean>
            value={logged}
            onChange={setLogged}
            options={[
              { value: false, label: 'readings to work on' },
              { value: true, label: 'what a logger wrote' },
            ]}
          />
        </Labelled>
        <Labelled words="every" group>
          <InputNumber min={1} max={1000} value={every} style={{ width: 70 }} aria-label="Every how manieth row" onChange={(n) => setEvery(n ?? 1)} />
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

/** What a column that is not in the lab book yet would be. */
function nameNew({ quantity, repeat, is_u }: Schemas['Target'], columns: ColumnLook[]): string {
  const of = columns.find((c) => quantity === `new:${c.index}`)?.heading ?? '';
  return is_u ? `the ± of ${of}` : repeat > 0 ? `${of}, repeat ${repeat + 1}` : `a new one: ${of}`;
}

function describe(column: ColumnLook, rows: number): string {
  const looked = column.numbers + column.blanks + column.texts;
  const parts = [`${column.numbers} ${column.numbers === 1 ? 'number' : 'numbers'}`];
  if (column.blanks) parts.push(`${column.blanks} blank`);
  if (column.texts) parts.push(`${column.texts} text`);
  return (looked < rows ? `of the first ${looked}: ` : '') + parts.join(', ');
}
