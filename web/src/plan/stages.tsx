// What a plan says at each stage, field by field.
import type { ComponentType } from 'react';
import type { Schemas, StageName } from '@/shared/api/client';
import { useBook } from '@/shared/book/context';
import { newId } from '@/shared/book/newId';
import { Labelled } from '@/shared/ui/Labelled';
import { AverageFields, First } from './convention';
import { Typeset } from '@/shared/ui/Typeset';
import { Bare, Chosen, Counted, Items, Ticked, Written } from './fields';
import { GridFields } from './grid';
import { changed, toggled, without } from './lists';
import { PictureFields } from './pictures';
import { ReadFields } from './reading';
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

/** The sentence for the margin, steps to tick, pictures: every stage may have them. */
export function Prompted({ stage }: { stage: StageName }) {
  const { plan, write, typed } = usePlan();
  const steps = plan.steps[stage] ?? [];
  const withSteps = (next: PlanFields['steps'][StageName]) => ({ steps: { ...plan.steps, [stage]: next } });
  return (
    <>
      <Written
        label="Prompt, in the benches’ margin"
        value={plan.prompts[stage] ?? ''}
        rows={2}
        hint={PROMPT_HINTS[stage]}
        onWrite={typed((text) => ({ prompts: { ...plan.prompts, [stage]: text } }))}
      />
      <Items
        label="Steps to tick"
        items={steps}
        keyOf={(step) => step.id}
        add="Add a step"
        onAdd={() => write(withSteps([...steps, { id: newId('step'), text: 'New step' }]))}
        onRemove={(i) => write(withSteps(without(steps, i)))}
      >
        {(step, i) => <Bare label={`Step ${i + 1}`} value={step.text} needed onWrite={typed((text) => withSteps(changed(steps, i, { text })))} />}
      </Items>
      <PictureFields stage={stage} />
    </>
  );
}

function AskFields() {
  const { plan, write, typed } = usePlan();
  return (
    <>
      <Ticked checked={plan.ask_first} onWrite={(ask_first) => write({ ask_first })}>
        Nothing but Ask is open before the expectation is written
      </Ticked>
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
      <Written label="Safety, in a sentence" value={plan.safety} hint="Goggles on while the clamp is tightened." onWrite={typed((safety) => ({ safety }))} />
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
            needed
            onWrite={typed((text) => ({ kept_same: plan.kept_same.map((was, at) => (at === i ? text : was)) }))}
          />
        )}
      </Items>
    </>
  );
}

function StraightenFields() {
  return <First name="bench_judges" words="Benches say what is straight before they are told" />;
}

function FitFields() {
  return <First name="bench_draws" words="Benches draw their line by eye before they see the fitted one" />;
}

function FindFields() {
  const { state } = useBook(({ state }) => ({ state }));
  const { plan, write } = usePlan();
  return (
    <>
      <First name="bench_rounds" words="Benches round a finding before they are told" />
      <First name="bench_foresees" words="Benches say what they would need to see before they are told whether it agrees" />
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
              <Typeset text={f.name} />
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
      <p className="quiet">At a time of day: under Dates and stations, once it is given out.</p>
      <Ticked checked={plan.pool_names} onWrite={(pool_names) => write({ pool_names })}>
        benches stand in it by their names
      </Ticked>
    </>
  );
}

function ReportFields() {
  const { plan, write, typed } = usePlan();
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
              needed
              onWrite={typed((title) => ({ sections: changed(plan.sections, i, { title }) }))}
            />
            <Bare
              label={`What belongs in section ${i + 1}`}
              value={s.hint}
              hint="what belongs in it"
              onWrite={typed((hint) => ({ sections: changed(plan.sections, i, { hint }) }))}
            />
            <div className="row">
              <Ticked checked={s.wanted} onWrite={(wanted) => write({ sections: changed(plan.sections, i, { wanted }) })}>
                wanted
              </Ticked>
              <Labelled words="fewest words">
                <Counted
                  label={`Fewest words of section ${i + 1}`}
                  value={s.fewest_words}
                  most={5000}
                  onWrite={typed((fewest_words) => ({ sections: changed(plan.sections, i, { fewest_words }) }))}
                />
              </Labelled>
            </div>
          </div>
        )}
      </Items>
      <GridFields />
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
  fit: FitFields,
  find: FindFields,
  pool: PoolFields,
  report: ReportFields,
};
