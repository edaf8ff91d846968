// The numbers that a finding can be made of, and a symbol for each that no other has.
import type { Quantity, Schemas } from '@/shared/api/client';

export type Ingredient = Schemas['IngredientIn'];
export type Kind = Ingredient['kind'];

export const KINDS: { value: Kind; label: string }[] = [
  { value: 'fit', label: 'a number of a fit' },
  { value: 'mean', label: 'the mean of a column, or a stretch of it' },
  { value: 'read_forward', label: 'y read off a fit' },
  { value: 'read_back', label: 'x read back from a line' },
  { value: 'unknown', label: 'an unknown of the line' },
  { value: 'tangent', label: 'the slope of a fit at a place' },
  { value: 'summit', label: 'where a curve turns' },
  { value: 'largest', label: 'the largest of points' },
  { value: 'smallest', label: 'the smallest of points' },
  { value: 'steepest', label: 'the steepest point' },
  { value: 'area', label: 'the area under points' },
  { value: 'finding', label: 'another finding' },
];

const LETTERS: Record<Kind, string> = {
  fit: 'm',
  mean: 'y',
  read_forward: 'y',
  read_back: 'x',
  unknown: 'x',
  tangent: 's',
  summit: 'y',
  largest: 'y',
  smallest: 'y',
  steepest: 'x',
  area: 'A',
  finding: 'w',
};

/** Of which the place and the value can be wanted. */
export const FARTHEST: readonly Kind[] = ['summit', 'largest', 'smallest'];
/** That are looked for in a stretch. */
export const STRETCHES: readonly Kind[] = ['mean', 'area', ...FARTHEST];

export function blank(kind: Kind, of: string): Ingredient {
  return {
    symbol: '',
    kind,
    of,
    part: kind === 'steepest' ? 'place' : FARTHEST.includes(kind) ? 'value' : '',
    at: kind === 'steepest' ? '0.5' : '',
    low: null,
    high: null,
    run: '',
    repeats: 1,
  };
}

/** `m_1`, `theta_2`: after what it is, and the first number that is free. */
export function nameFor(ingredient: Ingredient, taken: readonly string[], quantities: readonly Quantity[]): string {
  const own = ingredient.kind === 'mean' ? quantities.find((q) => q.id === ingredient.of)?.symbol : undefined;
  const part = ingredient.kind === 'fit' && ingredient.part !== 'gradient' ? (ingredient.part === 'intercept' ? 'c' : ingredient.part) : '';
  const letter = part || (own && /^[^\W\d]\w*$/u.test(own) ? (own.split('_')[0] ?? own) : LETTERS[ingredient.kind]);
  for (let i = 1; ; i++) if (!taken.includes(`${letter}_${i}`)) return `${letter}_${i}`;
}

/** Each with a symbol of its own. */
export function named(ingredients: readonly Ingredient[], quantities: readonly Quantity[]): Ingredient[] {
  const found: Ingredient[] = [];
  for (const i of ingredients)
    found.push(
      i.symbol
        ? i
        : {
            ...i,
            symbol: nameFor(
              i,
              found.map((f) => f.symbol),
              quantities,
            ),
          },
    );
  return found;
}
