// Keeps a number at hand for a finding; the Find stage then begins one with it.
import type { Schemas } from '@/shared/api/client';
import { useBook, useBookStore } from '@/shared/book/context';

type Ingredient = Schemas['IngredientIn'];

export function CollectButton({ what, ...part }: { what: string; kind: Ingredient['kind']; of: string } & Partial<Omit<Ingredient, 'symbol'>>) {
  const { collected, state } = useBook(({ collected, state }) => ({ collected, state }));
  const store = useBookStore();
  if (!state.can_edit) return null;
  const ingredient: Ingredient = { symbol: '', part: '', at: '', low: null, high: null, run: '', repeats: 1, ...part };
  const waits = collected.some((c) => JSON.stringify(c) === JSON.stringify(ingredient));
  return waits ? (
    <span className="quiet collect">waits in Find</span>
  ) : (
    <button type="button" className="plain-button collect" aria-label={`Use ${what} in Find`} onClick={() => store.collect(ingredient)}>
      use in Find
    </button>
  );
}
