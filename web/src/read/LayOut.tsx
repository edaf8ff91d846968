// Regular settings laid out at once: from, to, in steps of.
import { Button } from 'antd';
import { useState } from 'react';
import type { Quantity } from '@/shared/api/client';
import { useBook, useBookStore } from '@/shared/book/context';
import { cellKey, rowsOf, textOf } from '@/shared/book/rows';
import { Labelled } from '@/shared/ui/Labelled';
import { together, newSetting, writeCells } from '@/shared/book/cells';
import { layOut } from './laidOut';
import { Exact } from '@/shared/ui/Exact';

export function LayOut({ run, changed, next }: { run: string; changed: Quantity; next: Quantity | undefined }) {
  const { state, waiting, analysis } = useBook(({ state, waiting, analysis }) => ({ state, waiting, analysis }));
  const store = useBookStore();
  const [open, setOpen] = useState(false);
  const [ends, setEnds] = useState({ from: '', to: '', step: '' });
  const column = analysis.runs.find((r) => r.run === run)?.columns.find((c) => c.quantity === changed.id);
  const found = layOut(ends.from, ends.to, ends.step);
  const whole = Boolean(ends.from && ends.to && ends.step);
  const lay = () => {
    if (!('values' in found)) return;
    const rows = rowsOf(state, run, waiting);
    // where no value is set yet comes first
    const free = rows.filter((r) => r.setAside === null && !textOf(r, changed.id, 0));
    const places = found.values.map((text, i) => ({
      row: free[i] ?? { id: newSetting(), setAside: null, readings: {} },
      slot: { quantity: changed, repeat: 0 },
      text,
    }));
    const edit = together(writeCells(run, rows, places), `laid out ${found.values.length} settings`);
    if (edit) store.edit(edit, `${found.values.length} settings were laid out.`);
    setOpen(false);
    const [first] = places;
    if (first) store.goTo(cellKey(first.row.id, next?.id ?? changed.id, 0));
  };
  if (!open)
    return (
      <button type="button" className="plain-button lay-out-open" onClick={() => setOpen(true)}>
        Lay out even settings
      </button>
    );
  return (
    <form
      className="row lay-out"
      aria-label={`Even settings of ${changed.name}`}
      onSubmit={(e) => {
        e.preventDefault();
        lay();
      }}
      onKeyDown={(e) => {
        if (e.key !== 'Escape') return;
        e.stopPropagation();
        setOpen(false);
      }}
    >
      {(['from', 'to', 'step'] as const).map((end) => (
        <Labelled key={end} words={end === 'step' ? 'in steps of' : end}>
          <Exact
            size="small"
            inputMode="decimal"
            autoFocus={end === 'from'}
            value={ends[end]}
            maxLength={20}
            onChange={(e) => setEnds({ ...ends, [end]: e.target.value })}
          />
        </Labelled>
      ))}
      {column?.unit && <span className="quiet">{column.unit}</span>}
      <Button size="small" type="primary" htmlType="submit" disabled={!whole || !('values' in found)}>
        Lay them out
      </Button>
      <Button size="small" type="text" onClick={() => setOpen(false)}>
        Cancel
      </Button>
      <span className="quiet" aria-live="polite">
        {whole && ('wrong' in found ? found.wrong : describe(found.values))}
      </span>
    </form>
  );
}

function describe(values: string[]): string {
  const shown = values.length > 5 ? [...values.slice(0, 3), '…', ...values.slice(-1)] : values;
  return `${values.length === 1 ? 'one setting' : `${values.length} settings`}: ${shown.join(', ').replace(', …,', ' …')}`;
}
