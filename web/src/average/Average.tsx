// Average: repeats to one scale, means with ±, and the derived quantities that follow from them.
import { Button } from 'antd';
import { Suspense, lazy, useState } from 'react';
import type { ColumnResult, Schemas } from '@/shared/api/client';
import { useBook } from '@/shared/book/context';
import { RunNames } from '@/shared/book/RunNames';
import { NumberLink } from '@/shared/ui/Number';
import { Rich } from '@/shared/ui/Rich';
import { told } from '@/shared/ui/told';
import { Explained } from '@/shared/words/Explained';
import { DeriveMore } from './DeriveMore';
import { DerivedCard } from './DerivedCard';
import { Strips } from './Strips';
import { Tables } from './Tables';
import './average.css';
import { Typeset } from '@/shared/ui/Typeset';

const Conventions = lazy(() => import('./Conventions').then((m) => ({ default: m.Conventions })));

export function Average() {
  const { state, analysis, quantities } = useBook(({ state, analysis, quantities }) => ({ state, analysis, quantities }));
  const [comparing, setComparing] = useState(false);
  const run = analysis.runs[0];
  const settings = state.document.runs[0]?.settings ?? [];
  const columns = run?.columns ?? [];
  const repeated = columns.filter((c) => c.cells.some((cell) => cell.repeats.length > 1));
  const changed = columns.find((c) => c.quantity === quantities.find((q) => q.kind === 'changed')?.id);
  const derived = quantities.filter((q) => q.kind === 'derived');
  const constants = columns.filter((c) => c.constant);
  const empty = !columns.some((c) => c.count > 0 && !c.constant);
  const mayDerive = state.can_edit && state.document.freedoms.own_quantities;
  if (!run || (empty && !derived.length && !(mayDerive && columns.length)))
    return (
      <>
        <h1>Averages</h1>
        <p className="notice space-above">There is nothing to average yet. Write down the first readings, then come back.</p>
      </>
    );
  return (
    <>
      <div className="stage-head">
        <h1>Averages and what follows from them</h1>
        <RunNames />
        <p className="quiet">
          <Explained text={told(analysis.convention_words)} />{' '}
          <Button type="link" size="small" onClick={() => setComparing(true)}>
            Compare conventions
          </Button>
        </p>
      </div>
      {empty && <p className="notice">There is nothing to average yet. What is derived can be written already.</p>}
      {comparing && (
        <Suspense fallback={null}>
          <Conventions onClose={() => setComparing(false)} />
        </Suspense>
      )}
      {run.logged.length > 0 && (
        <section className="average-section">
          <h2>Logged</h2>
          <p>
            <Typeset text={told(run.logged)} /> <span className="quiet">There is one reading in each row, so its ± is that of the instrument.</span>
          </p>
        </section>
      )}
      {repeated.map((column) => (
        <section key={column.quantity} className="average-section">
          <h2>
            <Rich text={column.symbol} />
            {column.unit && <span> / {column.unit}</span>} <span className="quiet average-name">{quantities.find((q) => q.id === column.quantity)?.name}</span>
          </h2>
          <Strips column={column} changed={changed} run={run.run} settings={settings} />
        </section>
      ))}
      {constants.length > 0 && (
        <section className="average-section">
          <h2>The same at all settings</h2>
          <p className="row average-constants">
            {constants.map((c) => {
              const quantity = quantities.find((q) => q.id === c.quantity);
              return (
                <span key={c.quantity}>
                  <Rich text={c.symbol} /> = <span className="mono">{c.constant?.text}</span>{' '}
                  <span className="quiet">
                    {quantity?.name}
                    {quantity?.source && `, ${quantity.source}`}
                  </span>
                </span>
              );
            })}
          </p>
        </section>
      )}
      <Tables />
      <section className="average-section">
        <h2>Derived quantities</h2>
        <div className="derived-cards">
          {derived.map((q) => {
            const column = columns.find((c) => c.quantity === q.id);
            return column ? <DerivedCard key={q.id} quantity={q} column={column} /> : null;
          })}
        </div>
        {mayDerive && <DeriveMore />}
      </section>
      <DerivedTable
        columns={[changed, ...columns.filter((c) => derived.some((q) => q.id === c.quantity))].filter((c) => c !== undefined)}
        run={run.run}
        settings={settings}
      />
    </>
  );
}

function DerivedTable({ columns, run, settings }: { columns: ColumnResult[]; run: string; settings: { id: string; set_aside?: string | null }[] }) {
  const shown = columns.filter((c) => !c.trouble && !c.constant);
  if (shown.length < 2 || settings.length === 0) return null;
  const empty = shown.flatMap((c) =>
    c.notes.filter((n) => n.trouble.length > 0 && settings.some((s) => s.id === n.setting)).map((n) => ({ column: c, note: n })),
  );
  return (
    <div className="average-scroll">
      <table className="average-table">
        <thead>
          <tr>
            {shown.map((c) => (
              <th key={c.quantity} scope="col">
                <Rich text={c.symbol} />
                {c.unit ? ` / ${/[/ ]/.test(c.unit) ? `(${c.unit})` : c.unit}` : ''}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {settings.map((s, i) =>
            !shown[0]?.cells[i]?.value_text ? null : (
              <tr key={s.id} className={s.set_aside ? 'set-aside' : ''}>
                {shown.map((c) => (
                  <td key={c.quantity}>
                    <Value cell={c.cells[i]} of={`cell:${run}:${s.id}:${c.quantity}`} />
                  </td>
                ))}
              </tr>
            ),
          )}
        </tbody>
      </table>
      {empty.map(({ column, note }) => (
        <p key={`${column.quantity}:${note.setting}`} className="quiet">
          <Rich text={column.symbol} />, setting {settings.findIndex((s) => s.id === note.setting) + 1}: <Typeset text={told(note.trouble)} />
        </p>
      ))}
    </div>
  );
}

function Value({ cell, of }: { cell: Schemas['Cell'] | undefined; of: string }) {
  if (cell?.value === null || cell?.value === undefined) return cell?.value_text ? <>{cell.value_text}</> : <span className="quiet">–</span>;
  return (
    <NumberLink of={of}>
      {cell.value_text}
      {cell.u_text && <span className="quiet"> ± {cell.u_text}</span>}
      {cell.u === null && <span className="quiet">, its ± is not known</span>}
    </NumberLink>
  );
}
