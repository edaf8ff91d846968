// The marking grid of a plan: its rows, their levels, and what stands beside them when somebody marks.
import type { Schemas } from '@/shared/api/client';
import { newId } from '@/shared/book/newId';
import { Bare, Items, Ticked } from './fields';
import { changed, without } from './lists';
import { usePlan } from './usePlan';

const FACTS: Record<Schemas['GridRow']['facts'][number], string> = {
  readings: 'how many settings, and over which range',
  repeats: 'how often each was read',
  decimals: 'decimals',
  slips: 'slips answered',
  set_aside: 'what is set aside, and why',
  bars: 'what the fit counts',
  residuals: 'points within their bars',
  finding: 'findings and what they are compared with',
  words: 'how much is written',
  shares: 'who wrote what share',
};
const KINDS = Object.keys(FACTS) as (keyof typeof FACTS)[];

/** What of a lab book stands beside a row of the grid when it is marked. */
function RowFacts({ row, place, onWrite }: { row: Schemas['GridRow']; place: number; onWrite: (facts: Schemas['GridRow']['facts']) => void }) {
  return (
    <details className="row-facts">
      <summary aria-label={`What stands beside row ${place} when it is marked`}>
        {row.facts.length ? `beside it: ${row.facts.map((kind) => FACTS[kind]).join('; ')}` : 'beside it when it is marked: nothing in particular'}
      </summary>
      {KINDS.map((kind) => (
        <Ticked key={kind} checked={row.facts.includes(kind)} onWrite={(on) => onWrite(KINDS.filter((k) => (k === kind ? on : row.facts.includes(k))))}>
          {FACTS[kind]}
        </Ticked>
      ))}
    </details>
  );
}

function readLevels(text: string): string[] {
  const levels = text.split(';').map((level) => level.trim());
  return levels.filter(Boolean).slice(0, 8);
}

export function GridFields() {
  const { plan, write, typed } = usePlan();
  return (
    <Items
      label="Marking grid"
      items={plan.grid}
      keyOf={(r) => r.id}
      add="Add a row"
      onAdd={() => write({ grid: [...plan.grid, { id: newId('row'), title: 'New row', levels: ['not yet', 'partly', 'fully'], facts: [] }] })}
      onRemove={(i) => write({ grid: without(plan.grid, i) })}
    >
      {(r, i) => (
        <div className="plan-two">
          <Bare label={`Row ${i + 1} of the grid`} value={r.title} needed onWrite={typed((title) => ({ grid: changed(plan.grid, i, { title }) }))} />
          <Bare
            label={`Levels of row ${i + 1}, from the lowest`}
            value={r.levels.join('; ')}
            hint="levels, from the lowest; parted by semicolons"
            onWrite={typed((text) => ({ grid: changed(plan.grid, i, { levels: readLevels(text) }) }))}
          />
          <RowFacts row={r} place={i + 1} onWrite={(facts) => write({ grid: changed(plan.grid, i, { facts }) })} />
        </div>
      )}
    </Items>
  );
}
