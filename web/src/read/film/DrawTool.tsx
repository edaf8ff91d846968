// Lengths, angles and areas on a picture that stands still, and writing them down.
import { Button, Segmented } from 'antd';
import { useState } from 'react';
import type { Quantity } from '@/shared/api/client';
import { useBook, useBookStore } from '@/shared/book/context';
import { writeNext } from '@/shared/book/nextPlace';
import { readIn } from '@/shared/book/quantities';
import { Labelled } from '@/shared/ui/Labelled';
import { told } from '@/shared/ui/told';
import type { DrawnKind, Work } from './marks';
import type { MarksView } from './useWork';
import { withUnit } from '@/shared/ui/withUnit';
import { Typeset } from '@/shared/ui/Typeset';
import { SymbolSelect } from '@/shared/ui/SymbolSelect';

const KINDS: { value: DrawnKind; label: string; words: string }[] = [
  { value: 'length', label: 'length', words: 'Point at both ends.' },
  { value: 'angle', label: 'angle', words: 'Point along one arm, at the corner, and along the other arm.' },
  { value: 'area', label: 'area', words: 'Point at the corners as they follow round it.' },
];

interface Props {
  work: Work;
  change: (next: (before: Work) => Work) => void;
  kind: DrawnKind;
  onKind: (kind: DrawnKind) => void;
  view: MarksView | null;
  onSaid: (words: string) => void;
}

export function DrawTool({ work, change, kind, onKind, view, onSaid }: Props) {
  const { state, run, quantities, plainSymbolOf } = useBook(({ state, run, quantities, plainSymbolOf }) => ({ state, run, quantities, plainSymbolOf }));
  const store = useBookStore();
  const table = state.document.runs.find((r) => r.id === run);
  const open = state.can_edit && table && !table.log;
  const read = open ? readIn(quantities).filter((q) => !table.headings || table.headings.includes(q.id)) : [];
  const [into, setInto] = useState('');
  // where it fits: into the column that was chosen, else the first
  const targetOf = (found: MarksView['drawn'][number] | undefined) => {
    const fitting = read.filter((q) => q.holds !== 'words' && found?.fits.includes(q.unit));
    return fitting.find((q) => q.id === into) ?? fitting[0];
  };
  const write = (target: Quantity, text: string, unit: string) => {
    // with its unit, which is turned into that of the column
    const place = writeNext(store, target, unit && unit !== target.unit ? `(${text}) ${unit}` : text);
    onSaid(`${withUnit(text, unit)} written down: ${target.name}, ${place}`);
  };
  const offered = read.filter((q) => view?.drawn.some((found) => found.fits.includes(q.unit)));
  return (
    <>
      <Segmented<DrawnKind> aria-label="What is measured" size="small" value={kind} options={KINDS} onChange={onKind} />
      <p>{KINDS.find((k) => k.value === kind)?.words}</p>
      {offered.length > 1 && (
        <Labelled words="written into">
          <SymbolSelect
            size="small"
            value={into || offered[0]?.id}
            options={offered.map((q) => ({ value: q.id, label: `${plainSymbolOf(q.id)}, ${q.name}` }))}
            popupMatchSelectWidth={false}
            onChange={setInto}
          />
        </Labelled>
      )}
      <ol className="film-drawn">
        {work.drawn.map((drawn) => {
          const found = view?.drawn.find((d) => d.id === drawn.id);
          const target = targetOf(found);
          return (
            <li key={drawn.id}>
              <span>
                {drawn.kind}: {found?.trouble ? <span className="quiet">{told([found.trouble])}</span> : <b className="mono">{found?.text ?? ''}</b>}
              </span>
              <span className="row">
                {found?.reading && target && (
                  <Button size="small" onClick={() => write(target, found.reading, found.unit)}>
                    write down: <Typeset text={plainSymbolOf(target.id)} />
                  </Button>
                )}
                <Button
                  size="small"
                  type="text"
                  aria-label={`Take this ${drawn.kind} away`}
                  onClick={() => change((w) => ({ ...w, drawn: w.drawn.filter((d) => d.id !== drawn.id) }))}
                >
                  ×
                </Button>
              </span>
            </li>
          );
        })}
      </ol>
    </>
  );
}
