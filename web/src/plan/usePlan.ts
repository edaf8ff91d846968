// What a plan says, with what is still on its way laid over it; and writing something of it anew.
import type { Edit, Schemas } from '@/shared/api/client';
import { useBook, useBookStore } from '@/shared/book/context';

type WritePlan = Extract<Edit, { type: 'write_plan' }>;
export type PlanFields = Required<WritePlan['becomes']>;
export type Stage = keyof PlanFields['prompts'];

/** The fields that an edit may hold: a bench's lab book has more. */
const WRITTEN: Record<keyof PlanFields, true> = {
  prompts: true,
  steps: true,
  pictures: true,
  safety: true,
  kept_same: true,
  ask_first: true,
  relation_shown: true,
  accepted_shown: true,
  freedoms: true,
  left_open: true,
  own_values: true,
  given_runs: true,
  wanted: true,
  pool: true,
  pool_names: true,
  sections: true,
  grid: true,
  conditions: true,
  tables: true,
  rig: true,
  notes: true,
  dry: true,
};

/** What of a plan an edit can name. */
function fieldsOf(part: Schemas['PlanPart']): PlanFields {
  const { own_quantities, repeats, instruments, units, spread } = part.freedoms;
  const kept = { prompts: {}, steps: {}, pictures: {}, wanted: {}, ...part, freedoms: { own_quantities, repeats, instruments, units, spread } };
  return Object.fromEntries((Object.keys(WRITTEN) as (keyof PlanFields)[]).map((name) => [name, kept[name]])) as unknown as PlanFields;
}

interface WrittenPlan {
  plan: PlanFields;
  write: (fields: Partial<PlanFields>) => void;
  /** Writes what was typed: `make` lays a value in the fields that hold it. What stood there when typing began is said where it is another by now. */
  typed: <T>(make: (value: T) => Partial<PlanFields>) => (value: T, stood?: T) => void;
}

export function usePlan(): WrittenPlan {
  const { state, waiting } = useBook(({ state, waiting }) => ({ state, waiting }));
  const store = useBookStore();
  let plan = fieldsOf(state.document.plan);
  for (const { edit } of waiting) if (edit.type === 'write_plan') plan = { ...plan, ...edit.becomes };
  const write = (fields: Partial<PlanFields>, stood: Partial<PlanFields> = plan) => {
    const names = Object.keys(fields) as (keyof PlanFields)[];
    const other = names.filter((name) => JSON.stringify(stood[name]) !== JSON.stringify(fields[name]));
    if (!other.length) return;
    const was = Object.fromEntries(other.map((name) => [name, stood[name]]));
    const becomes = Object.fromEntries(other.map((name) => [name, fields[name]]));
    store.edit({ type: 'write_plan', was, becomes } as WritePlan);
  };
  const typed: WrittenPlan['typed'] = (make) => (value, stood) => write(make(value), stood === undefined ? plan : make(stood));
  return { plan, write, typed };
}
