// The ruled table: one band per setting, a heading block per quantity, repeats side by side with their mean on a tint.
// A long table scrolls within itself and keeps only the bands in sight in the page, so that typing into it stays quick.
import { Fragment, use, useMemo, useState } from 'react';
import type { Quantity } from '@/shared/api/client';
import { HistoryContext, useBook, useBookStore } from '@/shared/book/context';
import { isWorded } from '@/shared/book/quantities';
import { type Row, cellKey, nameOfSetting, rowsOf, textOf } from '@/shared/book/rows';
import { plain } from '@/shared/ui/Rich';
import { Astray } from './Astray';
import { BlockBar } from './BlockBar';
import { Keypad } from './Keypad';
import type { Place } from './ReadingCell';
import { RowBar } from './RowBar';
import { type CellActs, ClashRow, SettingBand } from './SettingBand';
import { TableHead } from './TableHead';
import { type CellText, decimalsIn, newSetting, slotsOf, together, writeCells } from '@/shared/book/cells';
import { type Chosen, edgesOf, extend, reach } from './chosen';
import { CALM, type Direction, OFTEN, came, ledOn, wrote } from './direction';
import { useAside } from './useAside';
import { Gap, useBands } from './useBands';
import { useBlock } from './useBlock';
import { useHeadings } from './useHeadings';
import { useStable } from './useStable';
import { useTableNotes } from './useTableNotes';
import { useTouch } from './useTouch';
import { widthsOf } from './widths';

const capital = (words: string) => (words.includes('=') ? words : words.charAt(0).toUpperCase() + words.slice(1));

interface Props {
  run: string;
  columns: Quantity[];
  derived: Quantity[];
  direction: Direction;
  onDirection: (direction: Direction) => void;
  editable: boolean;
  /** Bring a text in by its headings instead of pasting it. */
  onBring: (text: string) => void;
}

export function RuledTable({ run, columns, derived, direction, onDirection, editable, onBring }: Props) {
  const { state, waiting, clash } = useBook(({ state, waiting, clash }) => ({ state, waiting, clash }));
  const store = useBookStore();
  const touch = useTouch();
  const [focus, setFocus] = useState<{ at: [number, number]; key: string } | null>(null);
  const [chosen, setChosen] = useState<Chosen | null>(null);
  const [watch, setWatch] = useState(CALM);
  const [isLeft, setLeft] = useState(false);
  const [spareId, setSpareId] = useState(newSetting);
  const rows = useMemo(() => rowsOf(state, run, waiting), [state, run, waiting]);
  const shown = useMemo<Row[]>(() => (editable ? [...rows, { id: spareId, setAside: null, readings: {} }] : rows), [editable, rows, spareId]);
  const slots = useMemo(() => slotsOf(columns), [columns]);
  const notes = useTableNotes(run);
  const widths = useMemo(() => widthsOf(columns, rows), [columns, rows]);
  const decimals = useMemo(() => decimalsIn(columns, rows), [columns, rows]);
  const showHistory = use(HistoryContext);
  const headings = useHeadings(run, columns, editable);
  const places = useMemo(() => new Map(state.document.runs.find((r) => r.id === run)?.settings.map((s, i) => [s.id, i])), [state, run]);
  const { scroller, virtual, long, focusCell, focusLater } = useBands({
    run,
    rows,
    shown,
    slots,
    direction,
    editable,
    touch,
    focused: focus?.at,
    arrived: headings.arrived,
  });
  if (spareId && rows.some((r) => r.id === spareId)) setSpareId(newSetting());

  const write = (cells: CellText[], words: (n: number) => string, undoable: boolean) => {
    const edits = writeCells(run, rows, cells);
    const written = words(edits.filter((e) => e.type === 'set_reading').length);
    const edit = together(edits, written);
    if (edit) store.edit(edit, undoable ? `${written.charAt(0).toUpperCase()}${written.slice(1)}.` : '');
  };

  const move = (from: [number, number], place: Place, written: boolean) => {
    const [r, c] = from;
    const last = slots.length - 1;
    const onward: Place = direction === 'down' ? 'below' : 'right';
    const backward: Place = direction === 'down' ? 'above' : 'left';
    const to = place === 'onward' ? onward : place === 'backward' ? backward : place;
    if (place === 'onward' && written) setWatch((w) => ledOn(w, from, direction === 'down' ? [r + 1, c] : [r, c + 1]));
    if (to === 'stay') setChosen(null);
    else if (to === 'row-start') focusCell(r, 0);
    else if (to === 'row-end') focusCell(r, last);
    else if (to === 'top') focusCell(0, c);
    else if (to === 'bottom') focusCell(Math.max(0, rows.length - 1), c);
    else if (to === 'above' && r > 0) focusCell(r - 1, c);
    else if (to === 'below') {
      if (r < shown.length - 1) focusCell(r + 1, c);
      else if (written) focusLater([r + 1, c]);
      else if (place === 'onward' && c < last) focusCell(0, c + 1);
    } else if (to === 'right') focusCell(c < last ? r : Math.min(r + 1, shown.length - 1), c < last ? c + 1 : 0);
    else if (to === 'left' && (c > 0 || r > 0)) focusCell(c > 0 ? r : r - 1, c > 0 ? c - 1 : last);
  };

  const { pasted, cellsOf, fill, blank, copy, paste } = useBlock({ chosen, shown, slots, editable, write, onBring });

  /** A whole table, headings and all, where nothing stands yet; else it is looked over first. */
  const pasteTable = (text: string) => {
    const isEmpty = columns.length === 0 && rows.every((r) => Object.keys(r.readings).length === 0);
    if (isEmpty && headings.pasteTable(text)) focusLater([0, 0]);
    else onBring(text);
  };

  /** A setting is called by what was set: L = 0.405 m. */
  const nameOf = (row: Row): string => {
    const symbol = plain(notes.columns.get(columns[0]?.id ?? '')?.symbol ?? []) || (columns[0]?.symbol ?? '');
    return nameOfSetting(row.readings, columns[0], symbol, state.document.convention.decimal_mark) || 'this setting';
  };
  const aside = useAside({ run, slots, nameOf, focusCell });

  const latest: CellActs = {
    commit: (row, slot, text, was) => {
      write([{ row, slot, text, was }], () => `new setting, ${slot.quantity.symbol}: ${text}`, false);
      if (focus) setWatch((w) => wrote(w, focus.at));
    },
    move,
    extend: (from, way) => setChosen(extend(chosen, from, way, [shown.length - 1, slots.length - 1])),
    reach: (to, start) => {
      if (start) setChosen(null);
      else if (focus) setChosen(reach(focus.at, to));
    },
    paste,
    fill,
    blank: () => blank(),
    focus: (at, key) => {
      store.setPlace(key);
      focusLater(null);
      setFocus({ at, key });
      setChosen(null);
      setWatch((w) => came(w, at, direction));
    },
    asideReading: aside.reading,
    asideSetting: aside.setting,
    removeSetting: (row) => store.edit({ type: 'remove_setting', run, setting: row.id }, `${capital(nameOf(row))} was removed with its readings.`),
  };

  const acts = useStable(latest);

  // null for nearly all bands, which then need not be drawn again
  const question = (row: Row, r: number) => {
    const width = slots.length + columns.length + derived.length + headings.open + 1;
    if (clash?.edit.setting === row.id)
      return <ClashRow width={width} mine={clash.edit.text} theirs={clash.theirs} onSettle={(mine) => store.settleClash(mine)} />;
    return aside.question(row, r, width);
  };

  const band = (r: number) => {
    const row = shown[r];
    if (!row) return null;
    return (
      <SettingBand
        row={row}
        place={r}
        index={places.get(row.id) ?? -1}
        run={run}
        spare={r >= rows.length}
        editable={editable}
        touch={touch}
        columns={columns}
        slots={slots}
        derived={derived}
        decimals={decimals}
        open={headings.open}
        notes={notes}
        chosen={chosen && r >= edgesOf(chosen).top && r <= edgesOf(chosen).bottom ? chosen : null}
        acts={acts}
        bodyRef={long ? virtual.measureElement : undefined}
        question={question(row, r)}
      />
    );
  };

  const focusedRow = editable && focus ? rows[focus.at[0]] : undefined;
  const reading = focus ? slots[focus.at[1]] : undefined;
  const items = virtual.getVirtualItems();
  return (
    <>
      {pasted && (
        <p className="notice row" role="status">
          {pasted.words}
          <button type="button" className="notice-act" onClick={() => onBring(pasted.text)}>
            Choose columns by their headings instead
          </button>
        </p>
      )}
      <div
        className={`ruled-scroll${long ? ' long' : ''}`}
        ref={scroller}
        onCopy={copy}
        onCut={(e) => {
          if (copy(e)) blank('cut');
        }}
      >
        <table className="ruled" aria-rowcount={long ? shown.length : undefined}>
          <TableHead columns={columns} derived={derived} notes={notes} widths={widths} headings={headings} editable={editable} onPasteTable={pasteTable} />
          {long
            ? items.map((item, i) => (
                <Fragment key={item.key}>
                  <Gap height={item.start - (items[i - 1]?.end ?? 0)} />
                  {band(item.index)}
                </Fragment>
              ))
            : shown.map((row, r) => <Fragment key={row.id}>{band(r)}</Fragment>)}
          {long && <Gap height={virtual.getTotalSize() - (items.at(-1)?.end ?? 0)} />}
        </table>
      </div>
      {watch.astray >= OFTEN && !isLeft && (
        <Astray
          direction={direction}
          onTurn={() => {
            onDirection(direction === 'down' ? 'across' : 'down');
            setWatch(CALM);
          }}
          onLeave={() => setLeft(true)}
        />
      )}
      <div className="under-table">
        {chosen ? (
          <BlockBar
            number={cellsOf(chosen).length}
            first={textOf(shown[chosen.anchor[0]], slots[chosen.anchor[1]]?.quantity.id ?? '', slots[chosen.anchor[1]]?.repeat ?? 0)}
            editable={editable}
            onFill={fill}
            onBlank={() => blank()}
            onAside={() => aside.block(cellsOf(chosen))}
          />
        ) : (
          focusedRow &&
          reading && (
            <RowBar
              row={focusedRow}
              name={nameOf(focusedRow)}
              reading={reading}
              onAsideReading={() => aside.reading(focusedRow, reading)}
              onAsideSetting={() => aside.setting(focusedRow)}
              onPast={() => showHistory(cellKey(focusedRow.id, reading.quantity.id, reading.repeat))}
              onRemove={() => latest.removeSetting(focusedRow)}
            />
          )
        )}
      </div>
      {touch && editable && focus && !isWorded(slots[focus.at[1]]?.quantity) && <Keypad />}
    </>
  );
}
