// One setting: its readings with their means, what is set aside and why, and what can be done with it.
import { type MouseEvent, type ReactNode, type Ref, memo, use } from 'react';
import type { ColumnResult, Quantity, Schemas } from '@/shared/api/client';
import { HistoryContext, useBookStore } from '@/shared/book/context';
import { type Row, cellKey, textOf } from '@/shared/book/rows';
import { NumberLink } from '@/shared/ui/Number';
import { told } from '@/shared/ui/told';
import { type Place, ReadingCell } from './ReadingCell';
import type { Slot } from './cells';
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
  commit: (row: Row, slot: Slot, text: string) => void;
  move: (from: [number, number], place: Place, written: boolean) => void;
  extend: (from: [number, number], way: Way) => void;
  reach: (to: [number, number], start: boolean) => void;
  paste: (at: [number, number], text: string) => boolean;
  fill: (text: string) => boolean;
  blank: () => boolean;
  focus: (at: [number, number], key: string) => void;
  asideReading: (row: Row, slot: Slot) => void;
  asideSetting: (row: Row, number: number) => void;
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
  /** Columns whose headings are still to be typed. */
  open: number;
  notes: TableNotes;
  focused: string;
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
  open,
  notes,
  focused,
  chosen,
  acts,
  bodyRef,
  question,
}: Props) {
  const showHistory = use(HistoryContext);
  const width = slots.length + columns.length + open + 1;
  const asides = columns.flatMap((q) => (row.readings[q.id] ?? []).map((entry, repeat) => ({ key: `${q.id}${repeat}`, entry })));
  return (
    <tbody ref={bodyRef} data-index={r}>
      <tr className={`${row.setAside ? 'set-aside' : ''}${spare ? ' spare' : ''}`}>
        <td className="ruled-number" aria-hidden="true">
          {spare ? '' : r + 1}
        </td>
        {columns.map((q) => {
          const result = notes.columns.get(q.id);
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
                  label={`${q.name}, setting ${r + 1}${q.repeats > 1 ? `, repeat ${slot.repeat + 1}` : ''}${q.unit ? `, in ${q.unit}` : ''}`}
                  saved={textOf(row, q.id, slot.repeat)}
                  decimals={result?.decimals ?? null}
                  aside={row.readings[q.id]?.[slot.repeat]?.set_aside ?? null}
                  trouble={notes.refused.get(key) ?? told(note?.trouble)}
                  hint={note?.note ?? ''}
                  slip={notes.slips.get(key) ?? ''}
                  other={notes.others.get(key) ?? ''}
                  editable={editable}
                  touch={touch}
                  chosen={isIn(chosen, r, c)}
                  inBlock={chosen !== null}
                  onCommit={(text) => acts.commit(row, slot, text)}
                  onMove={(to, written) => acts.move(at, to, written)}
                  onExtend={(way) => acts.extend(at, way)}
                  onReach={(start) => acts.reach(at, start)}
                  onPaste={(text) => acts.paste(at, text)}
                  onFill={acts.fill}
                  onBlank={acts.blank}
                  onFocus={() => acts.focus(at, key)}
                  onAside={() => acts.asideReading(row, slot)}
                  onPast={() => showHistory(key)}
                />
              );
            });
          return [...cells, q.repeats > 1 ? <MeanCell key={`${q.id} mean`} run={run} row={row.id} result={result} index={index} /> : null];
        })}
        {open > 0 && <td className="ruled-open" colSpan={open} aria-hidden="true" />}
        <td className="ruled-acts">
          {editable && !spare && slots.length > 0 && (
            <RowActs
              run={run}
              row={row}
              number={r + 1}
              reading={slots.find((slot) => focused === cellKey(row.id, slot.quantity.id, slot.repeat))}
              acts={acts}
              onPast={(slot) => showHistory(cellKey(row.id, slot.quantity.id, slot.repeat))}
            />
          )}
        </td>
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
              {entry.text} set aside: {entry.set_aside}
            </td>
          </tr>
        ) : null,
      )}
      {question}
    </tbody>
  );
});

/** What can be done with a setting, and with the reading in it that has the focus. The keyboard has keys for the same. */
function RowActs({
  run,
  row,
  number,
  reading,
  acts,
  onPast,
}: {
  run: string;
  row: Row;
  number: number;
  reading: Slot | undefined;
  acts: CellActs;
  onPast: (slot: Slot) => void;
}) {
  const store = useBookStore();
  const entry = reading ? row.readings[reading.quantity.id]?.[reading.repeat] : null;
  const keepFocus = (e: MouseEvent) => e.preventDefault();
  return (
    <>
      {reading && entry && (
        <button type="button" tabIndex={-1} className="for-reading" title="Alt+S" onMouseDown={keepFocus} onClick={() => acts.asideReading(row, reading)}>
          {entry.set_aside ? `bring ${entry.text} back` : `set ${entry.text} aside`}
        </button>
      )}
      {reading && (
        <button type="button" tabIndex={-1} className="for-reading" title="Alt+H" onMouseDown={keepFocus} onClick={() => onPast(reading)}>
          its history
        </button>
      )}
      <button type="button" tabIndex={-1} onMouseDown={keepFocus} onClick={() => acts.asideSetting(row, number)}>
        {row.setAside ? 'bring setting back' : 'set setting aside'}
      </button>
      <button
        type="button"
        tabIndex={-1}
        className="remove"
        onMouseDown={keepFocus}
        onClick={() => store.edit({ type: 'remove_setting', run, setting: row.id }, `Setting ${number} was removed with its readings.`)}
      >
        remove setting
      </button>
    </>
  );
}

function MeanCell({ run, row, result, index }: { run: string; row: string; result: ColumnResult | undefined; index: number }) {
  const cell = index >= 0 ? result?.cells[index] : undefined;
  if (!result || !cell || cell.value === null || cell.value === undefined) return <td className="ruled-mean" />;
  return (
    <td className="ruled-mean">
      <NumberLink of={`cell:${run}:${row}:${result.quantity}`} label={`mean ${cell.value_text} plus or minus ${cell.u_text}`} inTable>
        {cell.value_text}
        {cell.u_text && <span className="ruled-u"> ± {cell.u_text}</span>}
      </NumberLink>
    </td>
  );
}

export function ClashRow({ width, mine, theirs, onSettle }: { width: number; mine: string; theirs: string; onSettle: (mine: boolean) => void }) {
  return (
    <tr className="clash">
      <td colSpan={width}>
        <div className="notice row" role="alert">
          <span>
            Somebody at your bench wrote <b className="mono">{theirs || 'nothing'}</b> here meanwhile; you wrote <b className="mono">{mine || 'nothing'}</b>.
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
