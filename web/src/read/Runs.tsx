// The runs of a lab book: which one is seen, fresh readings under the same headings, names, and two beside each other.
import { Button, Input, Select } from 'antd';
import { type ReactNode, useState } from 'react';
import type { Edit } from '@/shared/api/client';
import { useBook, useBookStore } from '@/shared/book/context';
import { newId } from '@/shared/book/newId';
import { isWorded } from '@/shared/book/quantities';
import { RunNames } from '@/shared/book/RunNames';
import { useSubmit } from '@/shared/book/useSubmit';
import { spokenDate } from '@/shared/ui/moments';
import { TroubleWords } from '@/shared/ui/TroubleWords';
import { RunsTable } from './RunsTable';

/** How the run that is seen is done, and on which day. */
function Condition({ id }: { id: string }) {
  const { state } = useBook(({ state }) => ({ state }));
  const words = state.document.plan.conditions.find((c) => c.id === id)?.words;
  const day = state.turns.find((t) => t.condition === id)?.day;
  if (!id || (!words && !day)) return null;
  return (
    <p className="run-condition">
      {words}
      {day && <span className="quiet"> {`To be done on ${spokenDate(day)}.`}</span>}
    </p>
  );
}

const newRun = () => newId('r');

export function Runs({ beside, onBeside, children }: { beside: string; onBeside: (run: string) => void; children: ReactNode }) {
  const { state, run, quantities } = useBook(({ state, run, quantities }) => ({ state, run, quantities }));
  const store = useBookStore();
  const [naming, setNaming] = useState<'add' | 'table' | 'rename' | null>(null);
  const [gathering, setGathering] = useState(false);
  const runs = state.run_order.map((id) => state.document.runs.find((r) => r.id === id)).filter((r) => r !== undefined);
  const current = runs.find((r) => r.id === run);
  if (!current) return null;
  const rowsOf = (r: (typeof runs)[number]) => r.settings.filter((s) => s.of_run);
  const read = runs.filter((r) => rowsOf(r).length === 0);
  const missing = rowsOf(current).length > 0 ? read.filter((r) => !current.settings.some((s) => s.of_run === r.id)) : [];
  const label = quantities.find((q) => isWorded(q) && current.headings?.includes(q.id));
  // one that still waits for the server is not gone to
  const goTo = (id: string) => {
    if (!store.read().held) void store.chooseRun(id);
  };
  const done = (edit: Edit | null) => {
    setNaming(null);
    setGathering(false);
    if (edit?.type === 'add_run' || edit?.type === 'add_runs_table') goTo(edit.run);
  };
  const named = (text: string): Edit =>
    naming === 'rename'
      ? { type: 'rename_run', run: current.id, name: text }
      : // fresh readings stand under the same headings; another table has none yet
        { type: 'add_run', run: newRun(), name: text, settings: null, headings: naming === 'table' ? [] : (current.headings ?? null) };
  return (
    <>
      <div className="runs">
        <div className="runs-names">
          <RunNames large />
          {state.can_edit && (
            <button type="button" className="run-add" onClick={() => setNaming('rename')}>
              rename
            </button>
          )}
          {state.can_edit && rowsOf(current).length === 0 && (
            <button
              type="button"
              className="run-add"
              onClick={() => setNaming('add')}
              title="The same headings and the same analysis, with readings of their own"
            >
              + fresh readings
            </button>
          )}
          {state.can_edit && state.document.freedoms.own_quantities && read.length > 1 && (
            <button type="button" className="run-add" onClick={() => setGathering(true)} title="What each run has given, in a table of its own">
              + table of the runs
            </button>
          )}
          {state.can_edit && state.document.freedoms.plan && (
            <button type="button" className="run-add" onClick={() => setNaming('table')} title="With other headings, and a graph of its own">
              + another table
            </button>
          )}
        </div>
        {children}
      </div>
      {naming && <RunName key={naming} {...NAMING[naming]} start={naming === 'rename' ? current.name : ''} editOf={named} onDone={done} />}
      {gathering && <RunsTable onDone={done} />}
      {state.can_edit && label && missing.length > 0 && (
        <p className="notice row">
          {missing.map((r) => r.name || 'Readings').join(', ')} {missing.length === 1 ? 'has' : 'have'} no row here yet.
          <button type="button" className="notice-act" onClick={() => store.edit({ type: 'add_run_rows', run: current.id, label: label.id })}>
            Add {missing.length === 1 ? 'it' : 'them'}
          </button>
        </p>
      )}
      <Condition id={current.condition} />
      {!naming && runs.length > 1 && (
        <div className="row run-acts">
          {state.can_edit && (
            <Button
              size="small"
              type="text"
              danger
              onClick={() => {
                const next = runs.find((r) => r.id !== run);
                store.edit({ type: 'remove_run', run: current.id }, `The run ${current.name} was removed with its readings.`);
                if (next) void store.whenSaved().then(() => store.chooseRun(next.id));
              }}
            >
              Remove run
            </Button>
          )}
          <label className="row run-beside">
            <span className="quiet">beside it</span>
            <Select
              size="small"
              value={beside}
              popupMatchSelectWidth={false}
              onChange={onBeside}
              options={[{ value: '', label: 'nothing' }, ...runs.filter((r) => r.id !== run).map((r) => ({ value: r.id, label: r.name }))]}
              aria-label="Another run beside this one"
            />
          </label>
        </div>
      )}
    </>
  );
}

const NAMING = {
  rename: { words: 'The run is called', hint: '', act: 'Rename' },
  add: { words: 'Fresh readings, taken under', hint: 'the condition: a wet strip, the second day …', act: 'Add' },
  table: { words: 'Another table, of', hint: 'what it is about: cooling, the second part …', act: 'Add' },
};

interface NameProps {
  words: string;
  hint: string;
  act: string;
  start: string;
  editOf: (name: string) => Edit;
  /** With what was kept, or nothing where it was left. */
  onDone: (edit: Edit | null) => void;
}

function RunName({ words, hint, act, start, editOf, onDone }: NameProps) {
  const { submit, busy, refusal } = useSubmit();
  const [text, setText] = useState(start);
  return (
    <form
      className="row run-naming"
      onSubmit={(e) => {
        e.preventDefault();
        if (!text.trim()) return;
        const edit = editOf(text.trim());
        submit(edit, () => onDone(edit));
      }}
      onKeyDown={(e) => {
        if (e.key === 'Escape') onDone(null);
      }}
    >
      <label htmlFor="run-name">{words}</label>
      <Input id="run-name" autoFocus value={text} maxLength={80} placeholder={hint} onChange={(e) => setText(e.target.value)} />
      <Button type="primary" htmlType="submit" loading={busy} disabled={!text.trim()}>
        {act}
      </Button>
      <Button onClick={() => onDone(null)}>Leave it</Button>
      <TroubleWords beside>{refusal}</TroubleWords>
    </form>
  );
}
