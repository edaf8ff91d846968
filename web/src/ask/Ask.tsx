// Ask: the question in large type, and what the bench expects, written before anything is measured.
import type { Quantity } from '@/shared/api/client';
import { useBook } from '@/shared/book/context';
import { Maths } from '@/shared/ui/Maths';
import { OwnText } from '@/shared/ui/OwnText';
import { Pictures } from '@/shared/ui/Pictures';
import { AboutBook, BookActs } from './AboutBook';
import { Sketch } from './Sketch';
import './ask.css';

/** What the plan says before anything is measured: the relation, once it is shown; safety; what is kept the same. */
function GivenByPlan() {
  const { state } = useBook(({ state }) => ({ state }));
  const { safety, kept_same: same, withheld } = state.document.plan;
  if (!state.relation_tex && !safety && same.length === 0 && !withheld.includes('relation')) return null;
  return (
    <section className="ask-given">
      {safety && <p className="ask-safety">{safety}</p>}
      {state.relation_tex && (
        <p>
          <span className="quiet">The relation to be tried: </span>
          <Maths tex={state.relation_tex} />
        </p>
      )}
      {withheld.includes('relation') && <p className="quiet">The relation is shown when you have written what you expect.</p>}
      {same.length > 0 && <p className="quiet">Kept the same: {same.join(', ')}.</p>}
    </section>
  );
}

export function Ask() {
  const { state, quantities, analysis } = useBook(({ state, quantities, analysis }) => ({ state, quantities, analysis }));
  const columns = analysis.runs[0]?.columns ?? [];
  return (
    <div className="ask">
      <div className="ask-begin">
        <div>
          {state.owner !== null && state.can_edit ? <AboutBook /> : <h1>{state.document.question || state.document.title}</h1>}
          {state.owner === null && <GivenByPlan />}
        </div>
        <Pictures stage="ask" />
      </div>
      {/* what benches expect is not their teacher's to write */}
      {state.plan === null && (
        <section>
          <h2>What do you expect?</h2>
          <p className="quiet">Say it in a sentence or two before you measure. It goes into the report as you leave it.</p>
          <OwnText section="expectation" label="What do you expect?" hint="I expect that …" />
          {(state.can_edit || state.document.sketch.length > 0) && <Sketch />}
        </section>
      )}
      {quantities.length > 0 && (
        <section>
          <h2>What is measured</h2>
          <table className="ask-quantities">
            <tbody>
              {quantities
                .filter((q) => q.kind !== 'derived')
                .map((q) => {
                  const column = columns.find((c) => c.quantity === q.id);
                  return (
                    <tr key={q.id}>
                      <td>
                        <Maths tex={column?.symbol_tex ?? q.symbol} />
                      </td>
                      <th scope="row">{q.name}</th>
                      <td className="quiet">{howItIsHad(q, state.document.plan.own_values.includes(q.id), q.given || state.plan !== null)}</td>
                      <td className="mono">{column?.constant?.text ?? column?.instrument_text ?? ''}</td>
                    </tr>
                  );
                })}
            </tbody>
          </table>
        </section>
      )}
      {state.owner !== null && state.can_edit && <BookActs />}
    </div>
  );
}

/** Who has to do what for a quantity; `theirs` is what benches measure themselves, `given` what they are told. */
function howItIsHad(q: Quantity, theirs: boolean, given: boolean): string {
  if (q.kind === 'changed') return 'you change it';
  if (q.kind === 'measured') return q.repeats > 1 ? `you measure it, ${q.repeats} times each` : 'you measure it';
  if (theirs) return 'you measure it, once';
  return given ? 'measured once, given' : 'measured once';
}
