// Positions become readings: what each of them is, and the run that they go into.
import { Button } from 'antd';
import { useState } from 'react';
import { changeQuantity } from '@/shared/book/choices';
import { useBook, useBookStore } from '@/shared/book/context';
import { isWorded, readIn } from '@/shared/book/quantities';
import { Labelled } from '@/shared/ui/Labelled';
import { SymbolSelect } from '@/shared/ui/SymbolSelect';
import {
  NAMES,
  NEW,
  NONE,
  PARTS,
  type Part,
  type Targets,
  bringTrack,
  firstFree,
  fitsIn,
  instrumentOf,
  partsOf,
  suggest,
  takesInstrument,
  unitFor,
} from './bringing';
import type { Work } from './marks';
import { type MarksView, USUAL, type Units, useMeasured } from './useWork';

interface Props {
  work: Work;
  times: readonly number[] | null;
  parts: readonly Part[];
  /** What is known so far, in the usual units. */
  known: MarksView;
  onDone: (said: string) => void;
  onLeave: () => void;
}

export function WriteInto({ work, times, parts, known, onDone, onLeave }: Props) {
  const { state, run, quantities, plainSymbolOf } = useBook(({ state, run, quantities, plainSymbolOf }) => ({ state, run, quantities, plainSymbolOf }));
  const store = useBookStore();
  const { freedoms } = state.document;
  const table = state.document.runs.find((r) => r.id === run);
  const read = readIn(quantities).filter((q) => !isWorded(q));
  const mayAdd = quantities.some((q) => q.kind === 'changed') ? freedoms.own_quantities : freedoms.plan;
  const fits = fitsIn(known);
  const [targets, setTargets] = useState<Targets>(() => suggest(parts, read, fits, mayAdd));
  const unit = (part: Part, usual: string) => unitFor(part, targets, read, usual);
  const units: Units = { length: unit('x', '') || unit('y', ''), time: unit('t', USUAL.time), angle: unit('angle', USUAL.angle) };
  const { view, isCurrent, trouble } = useMeasured(work, times, units);
  if (!table) return null;
  const followed = work.things.flatMap((thing) => {
    const track = view?.tracks.find((t) => t.thing === thing.id);
    return track && partsOf(track).length > 0 ? [{ name: thing.name, track }] : [];
  });
  const blank = !table.log && table.settings.every((s) => Object.keys(s.readings ?? {}).length === 0);
  const written = parts.filter((part) => targets[part] !== NONE);
  const twice = written.some((part) => targets[part] !== NEW && written.some((other) => other !== part && targets[other] === targets[part]));
  // two lengths in one unit: what is asked for has one
  const apart = targets.x !== NONE && targets.y !== NONE && unit('x', units.length) !== unit('y', units.length);
  const options = (part: Part) => [
    { value: NONE, label: 'left out' },
    ...read.filter((q) => fits(part, q.unit)).map((q) => ({ value: q.id, label: `${plainSymbolOf(q.id)} / ${q.unit || '1'}, ${q.name}` })),
    ...(mayAdd ? [{ value: NEW, label: `a new quantity: ${NAMES[part]}` }] : []),
  ];

  const write = () => {
    // what was worked out for other units would be written into the wrong column
    if (!view || !isCurrent) return;
    const made = new Map<Part, string>();
    const named = new Set(state.document.runs.map((r) => r.name.trim().toLowerCase()));
    const nameOf = (wanted: string) => {
      const free = firstFree(
        (n) => (n ? `${wanted} ${n + 1}` : wanted),
        (name) => named.has(name.trim().toLowerCase()),
      );
      named.add(free.trim().toLowerCase());
      return free;
    };
    const runs: string[] = [];
    let fills = blank;
    for (const thing of followed) {
      const all = { t: units.time, x: units.length || view.unit, y: units.length || view.unit, angle: units.angle };
      const name = fills ? thing.name : nameOf(thing.name || 'Film');
      const brought = bringTrack({ view, track: thing.track, targets, quantities, made, units: all, run: table, fills, name });
      fills = false;
      store.edit(brought.edit);
      runs.push(brought.run);
    }
    // what is read from nothing yet is read from this film from now on
    for (const part of written) {
      const quantity = read.find((q) => q.id === targets[part]);
      const instrument = instrumentOf(part, view);
      if (quantity && instrument && takesInstrument(quantity, instrument, freedoms.instruments))
        store.edit(changeQuantity(quantity, 'relabel', { instrument }));
    }
    const [first] = runs;
    if (first) void store.whenSaved().then(() => store.chooseRun(first));
    onDone(`${followed.length > 1 ? `${followed.length} runs` : 'The positions'} written into the table.`);
  };

  const held = written.flatMap((part) => {
    const quantity = read.find((q) => q.id === targets[part]);
    const instrument = view && instrumentOf(part, view);
    const lost = quantity && instrument && Number(instrument.common) > 0 && !takesInstrument(quantity, instrument, freedoms.instruments);
    return lost ? [plainSymbolOf(quantity.id)] : [];
  });
  return (
    <form
      className="film-write"
      onSubmit={(e) => {
        e.preventDefault();
        write();
      }}
    >
      {PARTS.filter((part) => parts.includes(part)).map((part) => (
        <Labelled key={part} words={part === 'angle' ? 'angle is' : `${part} is`}>
          <SymbolSelect
            size="small"
            value={targets[part]}
            options={options(part)}
            popupMatchSelectWidth={false}
            onChange={(to: string) => setTargets({ ...targets, [part]: to })}
          />
        </Labelled>
      ))}
      {trouble && <p className="notice">{trouble}</p>}
      {twice && <p className="notice">One quantity cannot be two of these.</p>}
      {apart && <p className="notice">The two lengths go into columns of one unit. Give both the same.</p>}
      {held.length > 0 && (
        <p className="quiet">
          What {held.join(' and ')} {held.length > 1 ? 'are' : 'is'} read from is set already: how well the scale of this film is known is then not counted.
        </p>
      )}
      <p className="quiet">
        {blank ? 'They fill this run' : 'They come as a run of their own'}
        {followed.length > 1 ? `, and ${blank ? 'each further' : 'each'} thing has one: ${followed.map((t) => t.name).join(', ')}.` : '.'}
      </p>
      <div className="row">
        <Button type="primary" size="small" htmlType="submit" disabled={!written.length || twice || apart || !isCurrent || !followed.length}>
          Write them
        </Button>
        <Button size="small" onClick={onLeave}>
          Not yet
        </Button>
      </div>
    </form>
  );
}
