// The order of a report’s parts.

/** The order with a part moved past its neighbour; all are named, so that it stays. */
export function moved(keys: readonly string[], key: string, by: -1 | 1): string[] {
  const from = keys.indexOf(key);
  const to = from + by;
  if (from < 0 || to < 0 || to >= keys.length) return [...keys];
  const out = keys.filter((k) => k !== key);
  out.splice(to, 0, key);
  return out;
}
