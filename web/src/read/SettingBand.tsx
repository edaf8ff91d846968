// One setting: its readings with their means, what is derived from them, what is set aside and why.
import { type ReactNode, type Ref, memo, use } from 'react';
import type { ColumnResult, Quantity, Schemas } from '@/shared/api/client';
import { HistoryContext, useDecimalMark } from '@/shared/book/context';
import { withMark } from '@/shared/book/decimalMark';
import { type Row, cellKey, textOf } from '@/shared/book/rows';
import { told } from '@/shared/ui/told';
import { isWorded } from '@/shared/book/quantities';
import { ResultCell, headOf } from './DerivedCells';
import { type Place, ReadingCell } from './ReadingCell';
import { type Slot, lackOf } from '@/shared/book/cells';
import { tidyUnit } from '@/shared/ui/withUnit';
import { type Chosen, type Way, isIn } from './chosen';

/** What is known of the cells of a table, by cell (setting:quantity:repeat) or by quantity. */
export interface TableNotes {
  columns: ReadonlyMap<string, ColumnResult>;
  readings: ReadonlyMap<string, Schemas['ReadingNote']>;
  /** Why the server would not keep what stands in a cell. */
  refused: ReadonlyMap<string, string>;
  slips: ReadonlyMap<string, string>;
  others: ReadonlyMap<string, string>;
}

/** What cells ask of the table that they are in; places are row and column. */
export interface CellActs {
  commit: (row: Row, slot: Slot, text: string, was: string) => void;
  move: (from: [number, number], place: Place, written: boolean) => void;
  extend: (from: [number, number], way: Way) => void;
  reach: (to: [number, number], start: boolean) => void;
  paste: (at: [number, number], text: string) => boolean;
  fill: (text: string) => boolean;
  blank: () => boolean;
  focus: (at: [number, number], key: string) => void;
  asideReading: (row: Row, slot: Slot) => void;
  asideSetting: (row: Row) => void;
  removeSetting: (row: Row) => void;
}

interface Props {
  row: Row;
  /** Its place in the table, and in what the server has computed (−1 where that has not seen it yet). */
  place: number;
  index: number;
  run: string;
  spare: boolean;
  editable: boolean;
  touch: boolean;
  columns: Quantity[];
  slots: Slot[];
  derived: Quantity[];
  /** Most decimals of the readings of a quantity, so that their points stand in line. */
  decimals: ReadonlyMap<string, number>;
  /** Columns whose headings are still to be typed. */
  open: number;
  notes: TableNotes;
  chosen: Chosen | null;
  acts: CellActs;
  bodyRef?: Ref<HTMLTableSectionElement>;
  /** A question about this setting, in a row of its own. */
  question: ReactNode;
}

export const SettingBand = memo(function SettingBand({
  row,
  place: r,
  index,
  run,
  spare,
  editable,
  touch,
  columns,
  slots,
  derived,
  decimals,
  open,
  notes,
  chosen,
  acts,
  bodyRef,
  question,
}: Props) {
  const showHistory = use(HistoryContext);
  const mark = useDecimalMark();
  const width = slots.length + columns.length + derived.length + open;
  const isNoticed = slots.some(({ quantity, repeat }) => notes.slips.has(cellKey(row.id, quantity.id, repeat)));
  const asides = columns.flatMap((q) => (row.readings[q.id] ?? []).map((entry, repeat) => ({ key: `${q.id}${repeat}`, entry })));
  return (
    <tbody ref={bodyRef} data-index={r}>
      <tr className={`${row.setAside ? 'set-aside' : ''}${spare ? ' spare' : ''}`}>
        <td className="ruled-gutter" aria-hidden="true">
          {isNoticed && <SlipTick />}
        </td>
        {columns.map((q) => {
          const result = notes.columns.get(q.id);
          const symbol = headOf(q, result);
          const cells = slots
            .map((slot, c) => ({ slot, c }))
            .filter(({ slot }) => slot.quantity.id === q.id)
            .map(({ slot, c }) => {
              const at: [number, number] = [r, c];
              const key = cellKey(row.id, q.id, slot.repeat);
              const note = notes.readings.get(key);
              return (
                <ReadingCell
                  key={slot.repeat}
                  at={at}
                  cell={key}
                  label={`${q.name}, setting ${r + 1}${q.repeats > 1 ? `, repeat ${slot.repeat + 1}` : ''}${isWorded(q) ? ', in words' : q.unit ? `, in ${q.unit}` : ''}`}
                  head={q.repeats > 1 ? `${symbol}, repeat ${slot.repeat + 1}` : `${symbol}${q.unit && ` / ${tidyUnit(q.unit)}`}`}
                  sets={q.kind === 'changed'}
                  saved={textOf(row, q.id, slot.repeat)}
                  decimals={result?.decimals ?? null}
                  mark={mark}
                  words={isWorded(q)}
                  lacks={isWorded(q) ? 0 : lackOf(textOf(row, q.id, slot.repeat), decimals.get(q.id) ?? 0)}
                  aside={row.readings[q.id]?.[slot.repeat]?.set_aside ?? null}
                  trouble={notes.refused.get(key) ?? told(note?.trouble)}
                  hint={note?.note ?? ''}
                  slip={notes.slips.get(key) ?? ''}
                  other={notes.others.get(key) ?? ''}
                  editable={editable}
                  touch={touch}
                  chosen={isIn(chosen, r, c)}
                  inBlock={chosen !== null}
                  onCommit={(text, was) => acts.commit(row, slot, text, was)}
                  onMove={(to, written) => acts.move(at, to, written)}
                  onExtend={(way) => acts.extend(at, way)}
                  onReach={(start) => acts.reach(at, start)}
                  onPaste={(text) => acts.paste(at, text)}
                  onFill={acts.fill}
                  onBlank={acts.blank}
                  onFocus={() => acts.focus(at, key)}
                  onAside={() => acts.asideReading(row, slot)}
                  onAsideSetting={() => acts.asideSetting(row)}
                  onRemove={() => acts.removeSetting(row)}
                  onPast={() => showHistory(key)}
                />
              );
            });
          return [...cells, q.repeats > 1 ? <ResultCell key={`${q.id} mean`} run={run} row={row.id} result={result} index={index} mean /> : null];
        })}
        {open > 0 && <td className="ruled-open" colSpan={open} aria-hidden="true" />}
        {derived.map((q) => (
          <ResultCell key={q.id} run={run} row={row.id} result={notes.columns.get(q.id)} index={index} />
        ))}
      </tr>
      {row.setAside && (
        <tr className="aside-reason">
          <td />
          <td colSpan={width}>Set aside: {row.setAside}</td>
        </tr>
      )}
      {asides.map(({ key, entry }) =>
        entry?.set_aside ? (
          <tr key={key} className="aside-reason">
            <td />
            <td colSpan={width}>
              {withMark(entry.text, mark)} set aside: {entry.set_aside}
            </td>
          </tr>
        ) : null,
      )}
      {question}
    </tbody>
  );
});

/** A stroke of ink beside a setting that something is noticed in; the margin says what. */
function SlipTick() {
  return (
    <svg width="16" height="16" viewBox="0 0 16 16">
      <path d="M3 8.5 L6.5 12.5 L13.5 3" fill="none" stroke="var(--saffron)" strokeWidth="2.2" strokeLinecap="round" />
    </svg>
  );
}

export function ClashRow({ width, mine, theirs, onSettle }: { width: number; mine: string; theirs: string; onSettle: (mine: boolean) => void }) {
  return (
    <tr className="clash">
      <td colSpan={width}>
        <div className="notice row" role="alert">
          <span>
            Somebody else wrote <b className="mono">{theirs || 'nothing'}</b> here meanwhile; you wrote <b className="mono">{mine || 'nothing'}</b>.
          </span>
          <button type="button" onClick={() => onSettle(false)}>
            Keep {theirs || 'it blank'}
          </button>
          <button type="button" onClick={() => onSettle(true)}>
            Write {mine || 'a blank'}
          </button>
        </div>
      </td>
    </tr>
  );
}
