// What a plan says of the table: how it is set, what benches may change, what is given, which conditions there are.
import { useBook } from '@/shared/book/context';
import { newId } from '@/shared/book/newId';
import { isWorded } from '@/shared/book/quantities';
import { Labelled } from '@/shared/ui/Labelled';
import { Bare, Counted, Items, Ticked } from './fields';
import { changed, toggled, without } from './lists';
import { RigFields } from './rig';
import { TableFields } from './tables';
import { type PlanFields, usePlan } from './usePlan';
import { Typeset } from '@/shared/ui/Typeset';
import { tidyUnit } from '@/shared/ui/withUnit';

const FREEDOMS: { name: keyof PlanFields['freedoms']; words: string }[] = [
  { name: 'own_quantities', words: 'add quantities of their own' },
  { name: 'repeats', words: 'choose how often each setting is read' },
  { name: 'instruments', words: 'choose the instruments' },
  { name: 'units', words: 'choose the units' },
  { name: 'spread', words: 'choose by which spread repeats get their ±' },
];

export function ReadFields() {
  const { state, quantities, plainSymbolOf } = useBook(({ state, quantities, plainSymbolOf }) => ({ state, quantities, plainSymbolOf }));
  const { plan, write, typed } = usePlan();
  const set = quantities.filter((q) => q.kind === 'changed' && !isWorded(q));
  const constants = quantities.filter((q) => q.kind === 'constant');
  const filled = state.document.runs.filter((r) => r.log ?? r.settings.some((s) => Object.keys(s.readings ?? {}).length > 0));
  return (
    <>
      {set.map((q) => {
        const wanted = plan.wanted[q.id] ?? { count: 0, low: '', high: '' };
        const change = (part: Partial<typeof wanted>) => ({ wanted: { ...plan.wanted, [q.id]: { ...wanted, ...part } } });
        return (
          <section key={q.id} className="plan-range" aria-label={`How ${q.name} is set`}>
            <h3>
              How {q.name} is set{q.unit ? `, in ${tidyUnit(q.unit)}` : ''}
            </h3>
            <div className="row">
              <Labelled words="from">
                <Bare label={`Lowest ${q.name}`} mono width={76} value={wanted.low} most={60} onWrite={typed((low) => change({ low }))} />
              </Labelled>
              <Labelled words="to">
                <Bare label={`Highest ${q.name}`} mono width={76} value={wanted.high} most={60} onWrite={typed((high) => change({ high }))} />
              </Labelled>
              <Labelled words="settings">
                <Counted label={`How many settings of ${q.name}`} value={wanted.count} most={200} onWrite={typed((count) => change({ count }))} />
              </Labelled>
            </div>
          </section>
        );
      })}
      <fieldset className="plan-choice">
        <legend>Benches may</legend>
        {FREEDOMS.map((f) => (
          <Ticked key={f.name} checked={plan.freedoms[f.name]} onWrite={(on) => write({ freedoms: { ...plan.freedoms, [f.name]: on } })}>
            {f.words}
          </Ticked>
        ))}
      </fieldset>
      {constants.length > 0 && (
        <fieldset className="plan-choice">
          <legend>Each bench writes its own value of</legend>
          {constants.map((q) => (
            <Ticked key={q.id} checked={plan.own_values.includes(q.id)} onWrite={(on) => write({ own_values: toggled(plan.own_values, q.id, on) })}>
              {q.name} (<Typeset text={plainSymbolOf(q.id)} />)
            </Ticked>
          ))}
        </fieldset>
      )}
      {filled.length > 0 && (
        <fieldset className="plan-choice">
          <legend>Readings that benches are given</legend>
          {filled.map((r) => (
            <Ticked key={r.id} checked={plan.given_runs.includes(r.id)} onWrite={(on) => write({ given_runs: toggled(plan.given_runs, r.id, on) })}>
              those of “{r.name}”
            </Ticked>
          ))}
          <p className="quiet">All others are your own trials and stay here.</p>
        </fieldset>
      )}
      <RigFields />
      <TableFields />
      <Items
        label="Conditions"
        items={plan.conditions}
        keyOf={(c) => c.id}
        add="Add a condition"
        onAdd={() => write({ conditions: [...plan.conditions, { id: newId('c'), name: `Condition ${plan.conditions.length + 1}`, words: '', trials: 0 }] })}
        onRemove={(i) => write({ conditions: without(plan.conditions, i) })}
      >
        {(c, i) => (
          <div className="plan-two">
            <Bare
              label={`Name of condition ${i + 1}`}
              value={c.name}
              most={80}
              needed
              onWrite={typed((name) => ({ conditions: changed(plan.conditions, i, { name }) }))}
            />
            <Bare
              label={`How condition ${i + 1} is done`}
              value={c.words}
              hint="how it is done"
              onWrite={typed((words) => ({ conditions: changed(plan.conditions, i, { words }) }))}
            />
            <Labelled words="trials wanted in the class">
              <Counted
                label={`How many trials of condition ${i + 1}`}
                value={c.trials}
                most={200}
                onWrite={typed((trials) => ({ conditions: changed(plan.conditions, i, { trials }) }))}
              />
            </Labelled>
          </div>
        )}
      </Items>
    </>
  );
}
