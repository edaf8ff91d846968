// Several readings in one field, told apart.

/**
 * One after the other as they were typed: “3.71 3.74”, “3,71; 3,74”. A blank parts two where a number begins behind it; what belongs to a
 * reading stays with it: its unit, a ± (which is refused as a whole, and not as a sign by itself), what stands in a bracket.
 */
export function apart(text: string): string[] {
  return text
    .split(/;|,\s+|(?<![±*/×·^(+\-−])\s+(?=[+\-−]?[.,]?\d|(?:ln|log10|exp|sqrt)\s*\()/)
    .map((one) => one.trim())
    .filter(Boolean);
}
