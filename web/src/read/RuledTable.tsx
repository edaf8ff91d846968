// The ruled table: one band per setting, a heading block per quantity, repeats side by side with their mean on a tint.
import { Fragment, type MouseEvent, use, useCallback, useEffect, useMemo, useRef, useState } from 'react';
import type { ColumnResult, Edit, Quantity } from '@/shared/api/client';
import { HistoryContext, useBook, useBookStore } from '@/shared/book/context';
import { type Row, cellKey, rowsOf, textOf } from '@/shared/book/rows';
import { NumberLink } from '@/shared/ui/Number';
import { Rich } from '@/shared/ui/Rich';
import { AsideForm, type AsideTarget } from './AsideForm';
import { type Place, ReadingCell } from './ReadingCell';
import { isBlock, readBlock } from './block';

interface Slot {
  quantity: Quantity;
  repeat: number;
}

const newId = () => `s${crypto.randomUUID().slice(0, 8)}`;

export function RuledTable({ run, columns, direction, editable }: { run: string; columns: Quantity[]; direction: 'down' | 'across'; editable: boolean }) {
  const { state, analysis, waiting, goTo, clash } = useBook();
  const store = useBookStore();
  const showHistory = use(HistoryContext);
  const table = useRef<HTMLTableElement>(null);
  const wanted = useRef<[number, number] | null>(null);
  const [aside, setAside] = useState<AsideTarget | null>(null);
  const [note, setNote] = useState('');
  const [focused, setFocused] = useState('');
  const [spareId, setSpareId] = useState(newId);
  const rows = useMemo(() => rowsOf(state, run, waiting), [state, run, waiting]);
  const spare: Row = { id: spareId, setAside: null, readings: {} };
  const shown = editable ? [...rows, spare] : rows;
  const slots: Slot[] = columns.flatMap((quantity) => Array.from({ length: quantity.repeats }, (_, repeat) => ({ quantity, repeat })));
  const results = analysis.runs.find((r) => r.run === run)?.columns ?? [];
  const settings = state.document.runs.find((r) => r.id === run)?.settings ?? [];

  const focusCell = useCallback((row: number, column: number) => {
    const cell = table.current?.querySelector<HTMLInputElement>(`input[data-at="${row}:${column}"]`);
    cell?.focus();
    cell?.select();
  }, []);

  // the row below the last one exists only after the last one has been written in
  useEffect(() => {
    if (!wanted.current) return;
    focusCell(...wanted.current);
    wanted.current = null;
  });

  useEffect(() => {
    if (!goTo) return;
    const cell = table.current?.querySelector<HTMLInputElement>(`input[data-cell="${goTo.cell}"]`);
    cell?.scrollIntoView({ block: 'center' });
    cell?.focus();
    cell?.select();
  }, [goTo]);

  if (spareId && rows.some((r) => r.id === spareId)) setSpareId(newId());

  const write = (row: Row, slot: Slot, text: string): Edit[] => {
    const edits: Edit[] = [];
    if (!rows.some((r) => r.id === row.id)) edits.push({ type: 'add_setting', run, setting: row.id, at: null, content: null });
    const was = textOf(row, slot.quantity.id, slot.repeat);
    edits.push({ type: 'set_reading', run, setting: row.id, quantity: slot.quantity.id, repeat: slot.repeat, text, was, set_aside: null });
    return edits;
  };

  const commit = (row: Row, slot: Slot, text: string) => {
    const edits = write(row, slot, text);
    const [only] = edits;
    if (edits.length === 1 && only) store.edit(only);
    else store.edit({ type: 'batch', words: `new setting, ${slot.quantity.symbol}: ${text}`, edits: edits as never });
  };

  const move = (from: [number, number], place: Place, written: boolean) => {
    const [r, c] = from;
    const last = slots.length - 1;
    const onward: Place = direction === 'down' ? 'below' : 'right';
    const backward: Place = direction === 'down' ? 'above' : 'left';
    const to = place === 'onward' ? onward : place === 'backward' ? backward : place;
    if (to === 'row-start') focusCell(r, 0);
    else if (to === 'row-end') focusCell(r, last);
    else if (to === 'top') focusCell(0, c);
    else if (to === 'bottom') focusCell(Math.max(0, rows.length - 1), c);
    else if (to === 'above' && r > 0) focusCell(r - 1, c);
    else if (to === 'below') {
      if (r < shown.length - 1) focusCell(r + 1, c);
      else if (written) wanted.current = [r + 1, c];
      else if (place === 'onward' && c < last) focusCell(0, c + 1);
    } else if (to === 'right') focusCell(c < last ? r : Math.min(r + 1, shown.length - 1), c < last ? c + 1 : 0);
    else if (to === 'left' && (c > 0 || r > 0)) focusCell(c > 0 ? r : r - 1, c > 0 ? c - 1 : last);
  };

  const paste = (row: number, column: number, text: string): boolean => {
    if (!isBlock(text)) return false;
    const block = readBlock(text);
    const edits: Edit[] = [];
    let outside = 0;
    let written = 0;
    block.rows.forEach((cells, i) => {
      const target: Row = rows[row + i] ?? { id: row + i === rows.length ? spareId : newId(), setAside: null, readings: {} };
      let added = rows.some((r) => r.id === target.id);
      cells.forEach((cell, j) => {
        const slot = slots[column + j];
        if (!slot) {
          if (cell) outside += 1;
          return;
        }
        if (cell === textOf(target, slot.quantity.id, slot.repeat)) return;
        edits.push(...write(target, slot, cell.slice(0, 60)).filter((e) => e.type !== 'add_setting' || !added));
        added = true;
        written += 1;
      });
    });
    const words = written === 1 ? 'pasted 1 reading' : `pasted ${written} readings`;
    if (edits.length) store.edit({ type: 'batch', words, edits: edits as never }, `${words[0]?.toUpperCase() ?? ''}${words.slice(1)}.`);
    const parts = [
      block.headings ? `The first line (${block.headings.join(', ')}) was taken as headings and left out.` : '',
      outside ? `${outside} ${outside === 1 ? 'value' : 'values'} did not fit into the columns to the right and were left out.` : '',
    ];
    setNote(parts.filter(Boolean).join(' '));
    return true;
  };

  const asideReading = (row: Row, { quantity, repeat }: Slot) => {
    const entry = row.readings[quantity.id]?.[repeat];
    if (!entry) return;
    if (entry.set_aside) store.edit({ type: 'set_aside', run, setting: row.id, quantity: quantity.id, repeat, reason: null });
    else setAside({ setting: row.id, quantity: quantity.id, repeat, words: `${quantity.symbol} = ${entry.text} ${quantity.unit}`.trim() });
  };

  const setRepeats = (quantity: Quantity, repeats: number) => {
    const less = repeats < quantity.repeats;
    store.edit({ type: 'set_repeats', quantity: quantity.id, repeats, content: null }, less ? `The last repeat of ${quantity.symbol} was removed.` : '');
  };

  const others = new Map(state.present.filter((p) => p.place).map((p) => [p.place, p.name]));

  return (
    <>
      {note && (
        <p className="notice" role="status">
          {note}
        </p>
      )}
      <div className="ruled-scroll">
        <table className="ruled" ref={table}>
          <thead>
            <tr>
              <th className="ruled-number" aria-label="Setting" />
              {columns.map((q) => (
                <Heading key={q.id} quantity={q} result={results.find((r) => r.quantity === q.id)} editable={editable} onRepeats={setRepeats} />
              ))}
              <th aria-label="What can be done with a setting" />
            </tr>
          </thead>
          <tbody>
            {shown.map((row, r) => {
              const isSpare = r >= rows.length;
              const index = settings.findIndex((s) => s.id === row.id);
              return (
                <Fragment key={row.id}>
                  <tr className={`${row.setAside ? 'set-aside' : ''}${isSpare ? ' spare' : ''}`}>
                    <td className="ruled-number" aria-hidden="true">
                      {isSpare ? '' : r + 1}
                    </td>
                    {columns.map((q) => (
                      <Fragment key={q.id}>
                        {slots
                          .map((slot, c) => ({ slot, c }))
                          .filter(({ slot }) => slot.quantity.id === q.id)
                          .map(({ slot, c }) => {
                            const key = cellKey(row.id, q.id, slot.repeat);
                            const result = results.find((x) => x.quantity === q.id);
                            return (
                              <ReadingCell
                                key={slot.repeat}
                                at={[r, c]}
                                cell={key}
                                label={`${q.name}, setting ${r + 1}${q.repeats > 1 ? `, repeat ${slot.repeat + 1}` : ''}${q.unit ? `, in ${q.unit}` : ''}`}
                                saved={textOf(row, q.id, slot.repeat)}
                                decimals={result?.decimals ?? null}
                                aside={row.readings[q.id]?.[slot.repeat]?.set_aside ?? null}
                                trouble={result?.notes.find((n) => n.setting === row.id && n.repeat === slot.repeat)?.trouble ?? ''}
                                hint={result?.notes.find((n) => n.setting === row.id && n.repeat === slot.repeat)?.note ?? ''}
                                slip={analysis.slips.find((s) => s.setting === row.id && s.quantity === q.id && (s.repeat === slot.repeat || (s.repeat === null && slot.repeat === 0)))?.message ?? ''}
                                other={others.get(key) ?? ''}
                                editable={editable}
                                onCommit={(text) => commit(row, slot, text)}
                                onMove={(place, written) => move([r, c], place, written)}
                                onPaste={(text) => paste(r, c, text)}
                                onFocus={() => {
                                  store.setPlace(key);
                                  setFocused(key);
                                }}
                                onAside={() => asideReading(row, slot)}
                                onPast={() => showHistory(key)}
                              />
                            );
                          })}
                        {q.repeats > 1 && <MeanCell run={run} row={row.id} result={results.find((x) => x.quantity === q.id)} index={index} />}
                      </Fragment>
                    ))}
                    <td className="ruled-acts">
                      {editable && !isSpare && (
                        <RowActs
                          row={row}
                          reading={slots.find((slot) => focused === cellKey(row.id, slot.quantity.id, slot.repeat))}
                          onReading={(slot) => asideReading(row, slot)}
                          onPast={(slot) => showHistory(cellKey(row.id, slot.quantity.id, slot.repeat))}
                          onSetting={() => {
                            if (row.setAside) store.edit({ type: 'set_aside', run, setting: row.id, quantity: null, repeat: null, reason: null });
                            else setAside({ setting: row.id, quantity: null, repeat: null, words: `setting ${r + 1}` });
                          }}
                          onRemove={() => store.edit({ type: 'remove_setting', run, setting: row.id }, `Setting ${r + 1} was removed with its readings.`)}
                        />
                      )}
                    </td>
                  </tr>
                  {row.setAside && (
                    <tr className="aside-reason">
                      <td />
                      <td colSpan={slots.length + columns.length + 1}>Set aside: {row.setAside}</td>
                    </tr>
                  )}
                  {columns.flatMap((q) =>
                    (row.readings[q.id] ?? []).map((entry, repeat) =>
                      entry?.set_aside ? (
                        <tr key={`${q.id}${repeat}`} className="aside-reason">
                          <td />
                          <td colSpan={slots.length + columns.length + 1}>
                            {entry.text} set aside: {entry.set_aside}
                          </td>
                        </tr>
                      ) : null,
                    ),
                  )}
                  {aside?.setting === row.id && (
                    <AsideForm
                      target={aside}
                      width={slots.length + columns.length + 2}
                      onDone={(reason, onwards) => {
                        if (reason && onwards) store.edit({ type: 'set_aside_from', run, setting: aside.setting, reason }, 'Everything from here on was set aside.');
                        else if (reason) store.edit({ type: 'set_aside', run, setting: aside.setting, quantity: aside.quantity, repeat: aside.repeat, reason });
                        setAside(null);
                        focusCell(r, Math.max(0, slots.findIndex((s) => s.quantity.id === aside.quantity && s.repeat === aside.repeat)));
                      }}
                    />
                  )}
                  {clash?.edit.type === 'set_reading' && clash.edit.setting === row.id && <ClashRow width={slots.length + columns.length + 2} mine={clash.edit.text} theirs={clash.theirs} onSettle={(mine) => store.settleClash(mine)} />}
                </Fragment>
              );
            })}
          </tbody>
        </table>
      </div>
    </>
  );
}

function Heading({ quantity: q, result, editable, onRepeats }: { quantity: Quantity; result: ColumnResult | undefined; editable: boolean; onRepeats: (q: Quantity, n: number) => void }) {
  return (
    <>
    <th colSpan={q.repeats} scope="colgroup" className="ruled-heading">
      <span className="ruled-symbol">
        {result ? <Rich text={result.symbol} /> : <i>{q.symbol}</i>}
        {q.unit ? <span className="ruled-unit"> / {result?.unit ?? q.unit}</span> : null}
      </span>
      <span className="ruled-name">{q.name}</span>
      <span className="ruled-instrument">{result?.instrument_text}</span>
      {editable && q.kind === 'measured' && (
        <span className="ruled-repeats">
          <button type="button" tabIndex={-1} aria-label={`One repeat fewer of ${q.name}`} disabled={q.repeats <= 1} onClick={() => onRepeats(q, q.repeats - 1)}>
            −
          </button>
          {q.repeats} {q.repeats === 1 ? 'reading' : 'repeats'}
          <button type="button" tabIndex={-1} aria-label={`One repeat more of ${q.name}`} disabled={q.repeats >= 12} onClick={() => onRepeats(q, q.repeats + 1)}>
            +
          </button>
        </span>
      )}
    </th>
    {q.repeats > 1 && (
      <th scope="col" className="ruled-heading ruled-mean-heading">
        mean ±
      </th>
    )}
    </>
  );
}

/** What can be done with a setting, and with the reading in it that has the focus. The keyboard has keys for the same. */
function RowActs({ row, reading, onReading, onPast, onSetting, onRemove }: { row: Row; reading: Slot | undefined; onReading: (slot: Slot) => void; onPast: (slot: Slot) => void; onSetting: () => void; onRemove: () => void }) {
  const entry = reading ? row.readings[reading.quantity.id]?.[reading.repeat] : null;
  const keepFocus = (e: MouseEvent) => e.preventDefault();
  return (
    <>
      {reading && entry && (
        <button type="button" tabIndex={-1} className="for-reading" title="Alt+S" onMouseDown={keepFocus} onClick={() => onReading(reading)}>
          {entry.set_aside ? `bring ${entry.text} back` : `set ${entry.text} aside`}
        </button>
      )}
      {reading && (
        <button type="button" tabIndex={-1} className="for-reading" title="Alt+H" onMouseDown={keepFocus} onClick={() => onPast(reading)}>
          its history
        </button>
      )}
      <button type="button" tabIndex={-1} onMouseDown={keepFocus} onClick={onSetting}>
        {row.setAside ? 'bring setting back' : 'set setting aside'}
      </button>
      <button type="button" tabIndex={-1} className="remove" onMouseDown={keepFocus} onClick={onRemove}>
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

function ClashRow({ width, mine, theirs, onSettle }: { width: number; mine: string; theirs: string; onSettle: (mine: boolean) => void }) {
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
