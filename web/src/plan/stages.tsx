// What a plan says at each stage, field by field.
import { Select } from 'antd';
import type { ComponentType } from 'react';
import type { Edit, Schemas, StageName } from '@/shared/api/client';
import { useBook, useBookStore } from '@/shared/book/context';
import { newId } from '@/shared/book/newId';
import { Labelled } from '@/shared/ui/Labelled';
import { Bare, Chosen, Items, Ticked, Written } from './fields';
import { type PlanFields, usePlan } from './usePlan';

const PROMPT_HINTS: Record<StageName, string> = {
  ask: 'Say what you expect before you measure.',
  read: 'Write every reading down as you see it.',
  average: 'Which ± are large, and why?',
  look: 'Line or curve?',
  straighten: 'Which plot should be straight?',
  fit: 'Does the line agree with the origin? Should it?',
  find: 'What makes most of the ±?',
  pool: 'Do benches scatter more than their ± say?',
  report: 'What would you improve first?',
};

function without<T>(items: readonly T[], i: number): T[] {
  return items.filter((_, at) => at !== i);
}

function changed<T>(items: readonly T[], i: number, part: Partial<T>): T[] {
  return items.map((item, at) => (at === i ? { ...item, ...part } : item));
}

function toggled(items: readonly string[], id: string, on: boolean): string[] {
  return on ? [...items.filter((item) => item !== id), id] : items.filter((item) => item !== id);
}

/** The sentence for the margin, and steps to tick: every stage may have them. */
export function Prompted({ stage }: { stage: StageName }) {
  const { plan, write } = usePlan();
  const steps = plan.steps[stage] ?? [];
  const setSteps = (next: PlanFields['steps'][StageName]) => write({ steps: { ...plan.steps, [stage]: next } });
  return (
    <>
      <Written
        label="Prompt, in the benches’ margin"
        value={plan.prompts[stage] ?? ''}
        rows={2}
        hint={PROMPT_HINTS[stage]}
        onWrite={(text) => write({ prompts: { ...plan.prompts, [stage]: text } })}
      />
      <Items
        label="Steps to tick"
        items={steps}
        keyOf={(step) => step.id}
        add="Add a step"
        onAdd={() => setSteps([...steps, { id: newId('step'), text: 'New step' }])}
        onRemove={(i) => setSteps(without(steps, i))}
      >
        {(step, i) => <Bare label={`Step ${i + 1}`} value={step.text} onWrite={(text) => text && setSteps(changed(steps, i, { text }))} />}
      </Items>
    </>
  );
}

function AskFields() {
  const { plan, write } = usePlan();
  return (
    <>
      <Chosen
        label="The relation is shown"
        value={plan.relation_shown}
        options={[
          { value: 'at_once', label: 'at once' },
          { value: 'after_expectation', label: 'after the bench has written what it expects' },
          { value: 'never', label: 'never' },
        ]}
        onWrite={(relation_shown) => write({ relation_shown })}
      />
      <Written label="Safety, in a sentence" value={plan.safety} hint="Goggles on while the clamp is tightened." onWrite={(safety) => write({ safety })} />
      <Items
        label="What is kept the same"
        items={plan.kept_same}
        keyOf={(_, i) => String(i)}
        add="Add something"
        onAdd={() => write({ kept_same: [...plan.kept_same, 'something'] })}
        onRemove={(i) => write({ kept_same: without(plan.kept_same, i) })}
      >
        {(line, i) => (
          <Bare
            label={`Kept the same, number ${i + 1}`}
            value={line}
            onWrite={(text) => text && write({ kept_same: plan.kept_same.map((was, at) => (at === i ? text : was)) })}
          />
        )}
      </Items>
    </>
  );
}

const FREEDOMS: { name: keyof PlanFields['freedoms']; words: string }[] = [
  { name: 'own_quantities', words: 'add quantities of their own' },
  { name: 'repeats', words: 'choose how often each setting is read' },
  { name: 'instruments', words: 'choose the instruments' },
  { name: 'units', words: 'choose the units' },
];

function ReadFields() {
  const { state, quantities, plainSymbolOf } = useBook(({ state, quantities, plainSymbolOf }) => ({ state, quantities, plainSymbolOf }));
  const { plan, write } = usePlan();
  const set = quantities.filter((q) => q.kind === 'changed');
  const constants = quantities.filter((q) => q.kind === 'constant');
  const filled = state.document.runs.filter((r) => r.log ?? r.settings.some((s) => Object.keys(s.readings ?? {}).length > 0));
  return (
    <>
      {set.map((q) => {
        const wanted = plan.wanted[q.id] ?? { count: 0, low: '', high: '' };
        const change = (part: Partial<typeof wanted>) => write({ wanted: { ...plan.wanted, [q.id]: { ...wanted, ...part } } });
        return (
          <section key={q.id} className="plan-range" aria-label={`How ${q.name} is set`}>
            <h3>
              How {q.name} is set{q.unit ? `, in ${q.unit}` : ''}
            </h3>
            <div className="row">
              <Labelled words="from">
                <Bare label={`Lowest ${q.name}`} mono width={76} value={wanted.low} most={60} onWrite={(low) => change({ low })} />
              </Labelled>
              <Labelled words="to">
                <Bare label={`Highest ${q.name}`} mono width={76} value={wanted.high} most={60} onWrite={(high) => change({ high })} />
              </Labelled>
              <Labelled words="settings">
                <Bare
                  label={`How many settings of ${q.name}`}
                  mono
                  width={52}
                  most={3}
                  value={wanted.count ? String(wanted.count) : ''}
                  onWrite={(text) => change({ count: Math.min(200, Math.max(0, Math.round(Number(text)) || 0)) })}
                />
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
              {q.name} ({plainSymbolOf(q.id)})
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
              onWrite={(name) => name && write({ conditions: changed(plan.conditions, i, { name }) })}
            />
            <Bare
              label={`How condition ${i + 1} is done`}
              value={c.words}
              hint="how it is done"
              onWrite={(words) => write({ conditions: changed(plan.conditions, i, { words }) })}
            />
          </div>
        )}
      </Items>
    </>
  );
}

type ConventionPart = Required<Extract<Edit, { type: 'choose_convention' }>['becomes']>;

/** The edit that chooses one thing of the convention anew. */
function chooseConvention(name: keyof ConventionPart, was: unknown, becomes: unknown): Edit {
  return { type: 'choose_convention', was: { [name]: was }, becomes: { [name]: becomes } } as unknown as Edit;
}

const CONVENTIONS: { name: keyof ConventionPart; words: string; options: { value: string; label: string }[] }[] = [
  {
    name: 'spread',
    words: '± of repeats',
    options: [
      { value: 'half_range', label: 'half the range' },
      { value: 'mean_abs_deviation', label: 'mean deviation' },
      { value: 'largest_deviation', label: 'largest deviation' },
      { value: 'sd', label: 'standard deviation' },
      { value: 'standard_error', label: 'standard error of the mean' },
    ],
  },
  {
    name: 'combine',
    words: 'with the instrument’s ±',
    options: [
      { value: 'larger', label: 'the larger counts' },
      { value: 'quadrature', label: 'in quadrature' },
    ],
  },
  {
    name: 'propagation',
    words: 'through formulas',
    options: [
      { value: 'quadrature', label: 'in quadrature' },
      { value: 'sum', label: 'added up' },
      { value: 'extremes', label: 'largest and smallest' },
      { value: 'monte_carlo', label: 'by many draws' },
    ],
  },
  {
    name: 'bars',
    words: 'bars drawn',
    options: [
      { value: 'own', label: 'each setting’s own' },
      { value: 'typical', label: 'typical of the column' },
    ],
  },
  {
    name: 'rounding',
    words: '± is written with',
    options: [
      { value: 'one', label: 'one figure' },
      { value: 'one_or_two', label: 'one figure, two after a 1' },
      { value: 'two', label: 'two figures' },
    ],
  },
  {
    name: 'verdict',
    words: 'values differ by',
    options: [
      { value: 'chance', label: 'chance, with degrees of freedom' },
      { value: 'plain', label: 'more than 2 combined ±' },
    ],
  },
];

function AverageFields() {
  const { state, waiting, quantities, plainSymbolOf } = useBook(({ state, waiting, quantities, plainSymbolOf }) => ({
    state,
    waiting,
    quantities,
    plainSymbolOf,
  }));
  const { plan, write } = usePlan();
  const store = useBookStore();
  let convention = state.document.convention as unknown as Record<string, unknown>;
  for (const { edit } of waiting) if (edit.type === 'choose_convention') convention = { ...convention, ...edit.becomes };
  const derived = quantities.filter((q) => q.kind === 'derived');
  return (
    <>
      {derived.length > 0 && (
        <fieldset className="plan-choice">
          <legend>Benches find the formula of</legend>
          {derived.map((q) => (
            <Ticked key={q.id} checked={plan.left_open.includes(q.id)} onWrite={(on) => write({ left_open: toggled(plan.left_open, q.id, on) })}>
              {q.name} ({plainSymbolOf(q.id)})
            </Ticked>
          ))}
        </fieldset>
      )}
      <section className="plan-convention" aria-label="The class’s convention">
        <h3>The class’s convention</h3>
        {CONVENTIONS.map((c) => (
          <Labelled key={c.name} words={c.words}>
            <Select
              size="small"
              value={convention[c.name] as string}
              options={c.options}
              popupMatchSelectWidth={false}
              onChange={(value: string) => store.edit(chooseConvention(c.name, convention[c.name], value))}
            />
          </Labelled>
        ))}
        <Ticked checked={convention.display_half as boolean} onWrite={(on) => store.edit(chooseConvention('display_half', !on, on))}>
          a display counts with half its last digit
        </Ticked>
      </section>
    </>
  );
}

/** Whether the bench says something first. */
function First({ name, words }: { name: 'bench_judges' | 'bench_rounds'; words: string }) {
  const { state, waiting } = useBook(({ state, waiting }) => ({ state, waiting }));
  const store = useBookStore();
  let now = state.document[name];
  for (const { edit } of waiting) if (edit.type === 'choose_convention') now = (edit.becomes as Partial<ConventionPart>)[name] ?? now;
  return (
    <Ticked checked={now} onWrite={(on) => store.edit(chooseConvention(name, now, on))}>
      {words}
    </Ticked>
  );
}

function StraightenFields() {
  return <First name="bench_judges" words="Benches say what is straight before they are told" />;
}

function FindFields() {
  const { state } = useBook(({ state }) => ({ state }));
  const { plan, write } = usePlan();
  return (
    <>
      <First name="bench_rounds" words="Benches round a finding before they are told" />
      <Chosen
        label="Accepted values are shown"
        value={plan.accepted_shown}
        options={[
          { value: 'at_once', label: 'at once' },
          { value: 'after_own', label: 'after the bench has stated its own' },
          { value: 'teacher', label: 'to teachers only' },
        ]}
        onWrite={(accepted_shown) => write({ accepted_shown })}
      />
      {state.document.findings.length > 0 && (
        <fieldset className="plan-choice">
          <legend>Benches find the formula of</legend>
          {state.document.findings.map((f: Schemas['Finding']) => (
            <Ticked key={f.id} checked={plan.left_open.includes(f.id)} onWrite={(on) => write({ left_open: toggled(plan.left_open, f.id, on) })}>
              {f.name}
            </Ticked>
          ))}
        </fieldset>
      )}
    </>
  );
}

function PoolFields() {
  const { plan, write } = usePlan();
  return (
    <>
      <Chosen
        label="The pool opens"
        value={plan.pool}
        options={[
          { value: 'by_hand', label: 'when you open it' },
          { value: 'all_in', label: 'when all benches have handed in' },
        ]}
        onWrite={(pool) => write({ pool })}
      />
      <Ticked checked={plan.pool_names} onWrite={(pool_names) => write({ pool_names })}>
        benches stand in it by their names
      </Ticked>
    </>
  );
}

function ReportFields() {
  const { plan, write } = usePlan();
  return (
    <>
      <Items
        label="Sections of the report"
        items={plan.sections}
        keyOf={(s) => s.id}
        add="Add a section"
        onAdd={() => write({ sections: [...plan.sections, { id: newId('sec'), title: 'New section', hint: '', wanted: true, fewest_words: 0 }] })}
        onRemove={(i) => write({ sections: without(plan.sections, i) })}
      >
        {(s, i) => (
          <div className="plan-two">
            <Bare
              label={`Title of section ${i + 1}`}
              value={s.title}
              most={120}
              onWrite={(title) => title && write({ sections: changed(plan.sections, i, { title }) })}
            />
            <Bare
              label={`What belongs in section ${i + 1}`}
              value={s.hint}
              hint="what belongs in it"
              onWrite={(hint) => write({ sections: changed(plan.sections, i, { hint }) })}
            />
            <Ticked checked={s.wanted} onWrite={(wanted) => write({ sections: changed(plan.sections, i, { wanted }) })}>
              wanted
            </Ticked>
          </div>
        )}
      </Items>
      <Items
        label="Marking grid"
        items={plan.grid}
        keyOf={(r) => r.id}
        add="Add a row"
        onAdd={() => write({ grid: [...plan.grid, { id: newId('row'), title: 'New row', levels: ['not yet', 'partly', 'fully'] }] })}
        onRemove={(i) => write({ grid: without(plan.grid, i) })}
      >
        {(r, i) => (
          <div className="plan-two">
            <Bare label={`Row ${i + 1} of the grid`} value={r.title} onWrite={(title) => title && write({ grid: changed(plan.grid, i, { title }) })} />
            <Bare
              label={`Levels of row ${i + 1}, from the lowest`}
              value={r.levels.join('; ')}
              hint="levels, from the lowest; parted by semicolons"
              onWrite={(text) =>
                write({
                  grid: changed(plan.grid, i, {
                    levels: text
                      .split(';')
                      .map((level) => level.trim())
                      .filter(Boolean)
                      .slice(0, 8),
                  }),
                })
              }
            />
          </div>
        )}
      </Items>
    </>
  );
}

const none = () => null;

/** What is asked at each stage besides its prompt. */
export const stageFields: Record<StageName, ComponentType> = {
  ask: AskFields,
  read: ReadFields,
  average: AverageFields,
  look: none,
  straighten: StraightenFields,
  fit: none,
  find: FindFields,
  pool: PoolFields,
  report: ReportFields,
};
