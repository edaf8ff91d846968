// What a logger wrote: thousands of rows to scroll through, fetched as far as they are looked at. Rows can be set aside, not edited.
import { useQueries } from '@tanstack/react-query';
import { useVirtualizer } from '@tanstack/react-virtual';
import { type KeyboardEvent, useRef, useState } from 'react';
import { type Schemas, client, get } from '@/shared/api/client';
import { useBook, useBookStore } from '@/shared/book/context';
import { Rich } from '@/shared/ui/Rich';
import { LogAside } from './LogAside';

const PAGE = 200;
const ROW = 30;
const JUMP = 20;

export function LogTable({ run, editable }: { run: string; editable: boolean }) {
  const { state, analysis, quantities } = useBook(({ state, analysis, quantities }) => ({ state, analysis, quantities }));
  const store = useBookStore();
  const scroller = useRef<HTMLDivElement>(null);
  const [chosen, setChosen] = useState<{ from: number; to: number } | null>(null);
  const log = state.document.runs.find((r) => r.id === run)?.log;
  const total = log?.rows ?? 0;
  // eslint-disable-next-line react-hooks/incompatible-library -- what it returns is used here alone, in every render anew
  const virtual = useVirtualizer({ count: total, getScrollElement: () => scroller.current, estimateSize: () => ROW, overscan: 15 });
  const items = virtual.getVirtualItems();
  const pages = [...new Set(items.map((item) => Math.floor(item.index / PAGE)))];
  const rows = useRows(run, pages);
  if (!log) return null;
  const results = analysis.runs.find((r) => r.run === run)?.columns ?? [];
  const shown = results.filter(
    (c) => !c.constant && !c.trouble && (log.units?.[c.quantity] !== undefined || quantities.find((q) => q.id === c.quantity)?.kind === 'derived'),
  );
  const go = (to: number, extending: boolean) => {
    const row = Math.max(0, Math.min(total - 1, to));
    setChosen({ from: extending ? (chosen?.from ?? row) : row, to: row });
    virtual.scrollToIndex(row);
  };
  const press = (e: KeyboardEvent) => {
    const at = chosen?.to ?? -1;
    const to = { ArrowDown: at + 1, ArrowUp: at - 1, PageDown: at + JUMP, PageUp: at - JUMP, Home: 0, End: total - 1 }[e.key];
    if (e.key === 'Escape') setChosen(null);
    if (to === undefined) return;
    e.preventDefault();
    go(to, e.shiftKey);
  };
  const [first, last] = chosen ? [Math.min(chosen.from, chosen.to), Math.max(chosen.from, chosen.to)] : [-1, -2];
  return (
    <>
      <p className="quiet log-words">A logger wrote these {total} rows. They stay as they are; press a row, then another with Shift, to set a stretch aside.</p>
      {log.aside.map((part) => (
        <p key={`${part.first}-${part.last}`} className="notice row">
          Rows {part.first + 1} to {part.last + 1} set aside: {part.reason}
          {editable && (
            <button
              type="button"
              className="notice-act"
              onClick={() => store.edit({ type: 'set_aside_rows', run, first: part.first, last: part.last, reason: null })}
            >
              bring them back
            </button>
          )}
        </p>
      ))}
      <div
        className="ruled-scroll long log"
        ref={scroller}
        tabIndex={0}
        role="region"
        aria-label={`Logged rows. Arrows go from row to row; ${sayRow(rows, chosen?.to)}`}
        onKeyDown={press}
      >
        <table className="ruled logged" aria-rowcount={total}>
          <thead>
            <tr>
              <th className="ruled-number">
                <span className="hidden-but-heard">Row</span>
              </th>
              {shown.map((c) => (
                <th key={c.quantity} scope="col" className="ruled-heading">
                  <span className="ruled-symbol">
                    <Rich text={c.symbol} />
                    {c.unit && <span className="ruled-unit"> / {c.unit}</span>}
                  </span>
                  <span className="ruled-name">{quantities.find((q) => q.id === c.quantity)?.name}</span>
                  <span className="ruled-instrument">{c.instrument_text}</span>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            <Gap height={items[0]?.start ?? 0} />
            {items.map(({ index }) => (
              <LogRow
                key={index}
                index={index}
                columns={shown}
                rows={rows.get(Math.floor(index / PAGE))}
                chosen={index >= first && index <= last}
                onChoose={(extending) => go(index, extending)}
              />
            ))}
            <Gap height={virtual.getTotalSize() - (items.at(-1)?.end ?? 0)} />
          </tbody>
        </table>
      </div>
      {chosen && editable && <LogAside key={`${first}-${last}`} run={run} first={first} last={last} onDone={() => setChosen(null)} />}
    </>
  );
}

type Rows = ReadonlyMap<number, Schemas['LogRows']>;

/** Pages of rows by their number, as far as they have arrived. */
function useRows(run: string, pages: number[]): Rows {
  const { state } = useBook(({ state }) => ({ state }));
  return useQueries({
    queries: pages.map((page) => ({
      queryKey: ['rows', state.id, run, page, state.revision],
      queryFn: () =>
        get(
          client.GET('/api/books/{book_id}/rows', {
            params: { path: { book_id: state.id }, query: { run, first: page * PAGE, count: PAGE } },
          }),
        ),
      staleTime: Infinity,
      placeholderData: (before: Schemas['LogRows'] | undefined) => (before?.first === page * PAGE ? before : undefined),
    })),
    combine: (answers) => new Map(answers.flatMap((a) => (a.data ? [[a.data.first / PAGE, a.data] as const] : []))),
  });
}

function LogRow({
  index,
  columns,
  rows,
  chosen,
  onChoose,
}: {
  index: number;
  columns: Schemas['ColumnResult'][];
  rows: Schemas['LogRows'] | undefined;
  chosen: boolean;
  onChoose: (extending: boolean) => void;
}) {
  const at = index % PAGE;
  const aside = rows?.aside[at] ?? '';
  return (
    <tr
      className={`${chosen ? 'chosen ' : ''}${aside ? 'set-aside' : ''}`}
      title={aside ? `Set aside: ${aside}` : undefined}
      aria-rowindex={index + 1}
      onMouseDown={(e) => e.shiftKey && e.preventDefault()}
      onClick={(e) => onChoose(e.shiftKey)}
    >
      <td className="ruled-number">{index + 1}</td>
      {columns.map((c) => {
        const column = rows?.columns.find((k) => k.quantity === c.quantity);
        const u = column?.us[at];
        return (
          <td key={c.quantity} className="log-value">
            {column ? column.texts[at] || '·' : '…'}
            {u && <span className="ruled-u"> ± {u}</span>}
          </td>
        );
      })}
    </tr>
  );
}

function Gap({ height }: { height: number }) {
  return height > 0 ? <tr aria-hidden="true" style={{ height }} /> : null;
}

function sayRow(rows: Rows, row: number | undefined): string {
  if (row === undefined) return 'no row is chosen';
  const page = rows.get(Math.floor(row / PAGE));
  return `row ${row + 1}: ${page?.columns.map((c) => c.texts[row % PAGE]).join(', ') ?? ''}`;
}
