// Find: from the gradient to a number with a name, its budget, its rounding, and how it compares.
import { useBook } from '@/shared/book/context';
import type { Schemas } from '@/shared/api/client';
import { NumberLine } from '@/shared/graph/NumberLine';
import { Budget } from '@/shared/ui/Budget';
import { Maths } from '@/shared/ui/Maths';
import { NumberLink } from '@/shared/ui/Number';
import { plain } from '@/shared/ui/Rich';
import './find.css';

export function Find() {
  const { analysis } = useBook();
  if (analysis.findings.length === 0) return <p className="notice">The plan of this practical asks for no finding.</p>;
  return (
    <div className="stack">
      {analysis.findings.map((f) => (
        <FindingSheet key={f.finding} finding={f} />
      ))}
    </div>
  );
}

function FindingSheet({ finding: f }: { finding: Schemas['FindingResult'] }) {
  if (f.trouble || !f.value)
    return (
      <section>
        <h1 className="find-name">{f.name}</h1>
        <p className="notice">{f.trouble?.message}</p>
      </section>
    );
  const tone = f.verdict === 'differ' ? 'bad' : f.verdict === 'agree' ? 'good' : '';
  return (
    <section className="find">
      <h1 className="find-name">{f.name}</h1>
      <div className="card find-chain">
        <Maths tex={f.formula_tex} block />
        <Maths tex={`${f.numbers_tex} = ${f.value.value_tex}`} block />
        <p className="find-statement">
          <NumberLink of={`finding:${f.finding}`} label={f.value.spoken}>
            <i>{plain(f.symbol)}</i> = {f.value.text}
          </NumberLink>
        </p>
        <p className="quiet">{f.rounding_words}</p>
      </div>
      <div className="find-lower">
        <div className="card">
          <h2>What makes the uncertainty</h2>
          <Budget bars={f.budget} />
          <p className="quiet find-note">Hatched: measured once, so it moves all settings together. It is counted once, here.</p>
        </div>
        {f.number_line && (
          <div className="card">
            <h2>Compared with the accepted value</h2>
            <NumberLine
              line={f.number_line}
              marks={f.number_line.marks.map(({ name, value, u }, i) => ({
                name,
                value,
                u,
                look: i === 0 ? 0 : 6,
                tone: i === 0 ? 'plain' : 'accepted',
                note: (i === 0 ? f.value?.text : f.accepted?.text) ?? '',
              }))}
            />
            <p className={`notice ${tone}`}>{f.comparison}</p>
            <p className="quiet find-note">
              Accepted: {f.accepted?.text}, {f.accepted_source}.
            </p>
          </div>
        )}
      </div>
    </section>
  );
}
