// What was handed in, as it was made then; beside it, if wanted, the lab book's report of now, or another hand-in of the same bench.
import { Segmented } from 'antd';
import { useState } from 'react';
import type { Schemas } from '@/shared/api/client';
import { PartChanges } from '@/shared/ui/PartChanges';

interface Props {
  bench: Schemas['QueuedBench'];
  handIn: Schemas['QueuedHandIn'];
}

const ALONE = 'alone';

export function Papers({ bench, handIn }: Props) {
  const [beside, setBeside] = useState(ALONE);
  const others = bench.hand_ins.filter((h) => h.id !== handIn.id);
  const options = [
    { value: ALONE, label: 'alone' },
    ...others.map((h) => ({ value: String(h.number), label: `beside hand-in ${h.number}` })),
    ...(bench.changed_since ? [{ value: 'now', label: 'beside the lab book now' }] : []),
  ];
  const other = others.find((h) => String(h.number) === beside);
  return (
    <section className="papers" aria-label={`What ${bench.bench} handed in`}>
      {options.length > 1 && (
        <div className="row papers-choice">
          <Segmented aria-label="What is beside it" value={beside} onChange={setBeside} options={options} />
        </div>
      )}
      {beside !== ALONE && (
        <PartChanges
          key={beside}
          handIn={handIn.id}
          against={beside}
          words={
            beside === 'now'
              ? 'What has changed since it was handed in'
              : `What differs between hand-ins ${[handIn.number, Number(beside)].sort((a, b) => a - b).join(' and ')}`
          }
        />
      )}
      <div className={`papers-frames${beside === ALONE ? '' : ' two'}`}>
        <figure>
          <figcaption>
            Hand-in {handIn.number}, as it was handed in · <a href={`/api/hand-ins/${handIn.id}/report.pdf`}>PDF</a>
          </figcaption>
          <iframe title={`Hand-in ${handIn.number} of ${bench.bench}`} src={`/api/hand-ins/${handIn.id}/page`} sandbox="" />
        </figure>
        {other && (
          <figure>
            <figcaption>
              Hand-in {other.number} · <a href={`/api/hand-ins/${other.id}/report.pdf`}>PDF</a>
            </figcaption>
            <iframe title={`Hand-in ${other.number} of ${bench.bench}`} src={`/api/hand-ins/${other.id}/page`} sandbox="" />
          </figure>
        )}
        {beside === 'now' && (
          <figure>
            <figcaption>
              The lab book as it is now · <a href={`/books/${bench.book}/report`}>open it</a>
            </figcaption>
            <iframe title={`The lab book of ${bench.bench} as it is now`} src={`/api/books/${bench.book}/report-page`} sandbox="" />
          </figure>
        )}
      </div>
    </section>
  );
}
