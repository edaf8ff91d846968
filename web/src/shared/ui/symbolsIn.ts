// A letter with a word or number lowered behind it, as sentences spell it: θ_r, V_e, n_half, k_0. Longer names are somebody's own.
const LOWERED = /(?<![\p{L}\p{N}_])(\p{L})_(\p{L}[\p{L}\p{N}]{0,7}|\p{N}{1,3})(?![\p{L}\p{N}_])/gu;

/** A sentence in pieces: of every second one, what stands lowered behind the letter before it. */
export function symbolsIn(text: string): { text: string; lowered: string }[] {
  const pieces: { text: string; lowered: string }[] = [];
  let from = 0;
  for (const found of text.matchAll(LOWERED)) {
    const [, letter = '', lowered = ''] = found;
    pieces.push({ text: text.slice(from, found.index) + letter, lowered });
    from = found.index + found[0].length;
  }
  if (from < text.length) pieces.push({ text: text.slice(from), lowered: '' });
  return pieces;
}

// in the order of the alphabet, as Unicode has it; the sigma that ends a word has no name of its own
const GREEK = 'alpha beta gamma delta epsilon zeta eta theta iota kappa lambda mu nu xi omicron pi rho - sigma tau upsilon phi chi psi omega'.split(' ');
const LETTERS = new Map(
  GREEK.flatMap((name, i) => {
    const letter = String.fromCodePoint(0x3b1 + i);
    return name === '-' ? [] : [[name, letter] as const, [`${name.charAt(0).toUpperCase()}${name.slice(1)}`, letter.toUpperCase()] as const];
  }),
);

/** A symbol as formulas write it, for a sentence: μ for mu, Δ_1 for Delta_1. */
export function letterOf(symbol: string): string {
  const [name = '', ...rest] = symbol.split('_');
  return [LETTERS.get(name) ?? name, ...rest].join('_');
}
