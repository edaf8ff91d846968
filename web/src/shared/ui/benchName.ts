/** A bench as it is called in a sentence: “bench Knot”, but “Bench 2” where that is its name. */
export function benchName(name: string, start: 'Bench' | 'bench'): string {
  return /^(bench|table|group|team)\b/i.test(name) ? name : `${start} ${name}`;
}
