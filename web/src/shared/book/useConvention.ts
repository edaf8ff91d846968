// The class's convention, with what is on its way laid over it, and choosing one thing of it anew.
import type { Edit, Schemas } from '@/shared/api/client';
import { useBook, useBookStore } from './context';

type ChooseConvention = Extract<Edit, { type: 'choose_convention' }>;
type First = 'bench_judges' | 'bench_rounds' | 'bench_draws' | 'bench_foresees';
export type ConventionPart = Schemas['Convention'] & Record<First, boolean>;

export function useConvention() {
  const { document, waiting } = useBook(({ state, waiting }) => ({ document: state.document, waiting }));
  const store = useBookStore();
  const { bench_judges, bench_rounds, bench_draws, bench_foresees } = document;
  let convention: ConventionPart = { ...document.convention, bench_judges, bench_rounds, bench_draws, bench_foresees };
  for (const { edit } of waiting) if (edit.type === 'choose_convention') convention = { ...convention, ...edit.becomes };
  /** `words` are said beside the offer to take it back. */
  const choose = <N extends keyof ConventionPart>(name: N, becomes: ConventionPart[N], words?: string) =>
    store.edit({ type: 'choose_convention', was: { [name]: convention[name] }, becomes: { [name]: becomes } } as unknown as ChooseConvention, words);
  return { convention, choose };
}
