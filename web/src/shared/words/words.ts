// Words of the trade that somebody of fifteen may stop at: what each means, in two sentences, with a small picture.

export interface TradeWord {
  /** As it stands in a sentence. */
  match: RegExp;
  title: string;
  says: string;
  picture: 'bar' | 'residual' | 'triangle' | 'range' | 'weights' | 'scatter' | 'spare' | 'apart' | 'middle';
}

export const TRADE_WORDS: readonly TradeWord[] = [
  {
    match: /in quadrature/,
    title: 'in quadrature',
    says: 'Two ± that have nothing to do with each other seldom push the same way. They add like the sides of a right angle: √(a² + b²), which is less than a + b.',
    picture: 'triangle',
  },
  {
    match: /half the range/,
    title: 'half the range',
    says: 'The repeats lie between a smallest and a largest. Half of what lies between them is taken as the ± of their mean.',
    picture: 'range',
  },
  {
    match: /standard error/,
    title: 'standard error',
    says: 'How uncertain a mean is: the standard deviation of its readings, divided by the root of how many there are. Four times as many readings halve it.',
    picture: 'range',
  },
  {
    match: /standard deviation/,
    title: 'standard deviation',
    says: 'How far readings lie from their mean, as a rule. About two of three lie within it.',
    picture: 'range',
  },
  {
    match: /error bars?|\bbars\b/,
    title: 'error bar',
    says: 'How far from the point the true value may well lie. A line that is right goes through about two bars of three, not through all of them.',
    picture: 'bar',
  },
  {
    match: /residuals?/,
    title: 'residual',
    says: 'What is left of a point when the line is taken off: the measured y minus the y of the line. Scattered above and below means a line; a pattern means a bend.',
    picture: 'residual',
  },
  {
    match: /weighted|weighs?/,
    title: 'weighted',
    says: 'A point with a short bar is known better, so it counts more: half the bar counts four times.',
    picture: 'weights',
  },
  {
    match: /χ²ν|χ²/,
    title: 'χ²ν, reduced chi squared',
    says: 'How far the points miss the line, measured in their own bars. Near 1 the bars explain it; far more, and something else is there; far less, and the bars are generous.',
    picture: 'scatter',
  },
  {
    match: /degrees of freedom/,
    title: 'degrees of freedom',
    says: 'Points to spare: how many there are beyond those that the fit needs. Two points always lie on a line, so only the third says something.',
    picture: 'spare',
  },
  {
    match: /combined uncertaint(?:y|ies)/,
    title: 'combined uncertainty',
    says: 'The ± of a difference: those of both numbers, added in quadrature. Two numbers that are less than about two of it apart may well be the same.',
    picture: 'apart',
  },
  {
    match: /median absolute deviation/,
    title: 'median absolute deviation',
    says: 'Half of all benches lie nearer to the middle one than this, half lie further. One bench that is far off hardly moves it.',
    picture: 'middle',
  },
  {
    match: /\bmedian\b/,
    title: 'median',
    says: 'The middle one when all stand in order. However far off the outermost are, it stays where it is.',
    picture: 'middle',
  },
  {
    match: /R²/,
    title: 'R²',
    says: 'How much of the ups and downs of y the line accounts for; 1 is all of it. A curve can have 0.99 all the same: look at the residuals.',
    picture: 'residual',
  },
];

/** A text in pieces, the first of each word with what it means. */
export function explain(text: string): { text: string; word: TradeWord | null }[] {
  const pieces: { text: string; word: TradeWord | null }[] = [];
  let rest = text;
  let left = [...TRADE_WORDS];
  for (;;) {
    const next = left
      .map((word) => ({ word, at: word.match.exec(rest) }))
      .filter((f) => f.at !== null)
      .sort((a, b) => (a.at?.index ?? 0) - (b.at?.index ?? 0))[0];
    const found = next?.at;
    if (!next || !found) break;
    if (found.index > 0) pieces.push({ text: rest.slice(0, found.index), word: null });
    pieces.push({ text: found[0], word: next.word });
    rest = rest.slice(found.index + found[0].length);
    left = left.filter((word) => word !== next.word);
  }
  if (rest) pieces.push({ text: rest, word: null });
  return pieces;
}
