// The class's convention, and what benches find or say before they are told.
import { type ConventionPart, useConvention } from '@/shared/book/useConvention';
import { useBook } from '@/shared/book/context';
import { DECIMAL_MARKS } from '@/shared/book/decimalMark';
import { Labelled } from '@/shared/ui/Labelled';
import { Ticked } from './fields';
import { toggled } from './lists';
import { usePlan } from './usePlan';
import { Typeset } from '@/shared/ui/Typeset';
import { SymbolSelect } from '@/shared/ui/SymbolSelect';

const CONVENTIONS: {
  name: Exclude<keyof ConventionPart, 'coverage' | 'display_half' | `bench_${string}`>;
  words: string;
  options: { value: string; label: string }[];
}[] = [
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
    name: 'slope_word',
    words: 'how steep a line is',
    options: [
      { value: 'gradient', label: 'gradient' },
      { value: 'slope', label: 'slope' },
    ],
  },
  {
    name: 'decimal_mark',
    words: 'numbers are shown with',
    options: DECIMAL_MARKS,
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

export function AverageFields() {
  const { quantities, plainSymbolOf } = useBook(({ quantities, plainSymbolOf }) => ({ quantities, plainSymbolOf }));
  const { plan, write } = usePlan();
  const { convention, choose } = useConvention();
  const derived = quantities.filter((q) => q.kind === 'derived');
  return (
    <>
      {derived.length > 0 && (
        <fieldset className="plan-choice">
          <legend>Benches find the formula of</legend>
          {derived.map((q) => (
            <Ticked key={q.id} checked={plan.left_open.includes(q.id)} onWrite={(on) => write({ left_open: toggled(plan.left_open, q.id, on) })}>
              {q.name} (<Typeset text={plainSymbolOf(q.id)} />)
            </Ticked>
          ))}
        </fieldset>
      )}
      <section className="plan-convention" aria-label="The class’s convention">
        <h3>The class’s convention</h3>
        {CONVENTIONS.map((c) => (
          <Labelled key={c.name} words={c.words}>
            <SymbolSelect
              size="small"
              value={convention[c.name]}
              options={c.options}
              popupMatchSelectWidth={false}
              onChange={(value: string) => choose(c.name, value as never)}
            />
          </Labelled>
        ))}
        <Labelled words="standard error holds">
          <SymbolSelect
            size="small"
            value={convention.coverage ? `${convention.coverage}` : ''}
            options={[
              { value: '', label: 'as it is' },
              { value: '0.95', label: '95 %, by Student’s t' },
              { value: '0.99', label: '99 %, by Student’s t' },
            ]}
            popupMatchSelectWidth={false}
            onChange={(text: string) => choose('coverage', text ? Number(text) : null)}
          />
        </Labelled>
        <Ticked checked={convention.display_half} onWrite={(on) => choose('display_half', on)}>
          a display counts with half its last digit
        </Ticked>
      </section>
    </>
  );
}

/** Whether the bench says something first. */
export function First({ name, words }: { name: 'bench_judges' | 'bench_rounds' | 'bench_draws' | 'bench_foresees'; words: string }) {
  const { convention, choose } = useConvention();
  return (
    <Ticked checked={convention[name]} onWrite={(on) => choose(name, on)}>
      {words}
    </Ticked>
  );
}
