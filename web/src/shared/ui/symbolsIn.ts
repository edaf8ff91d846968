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
