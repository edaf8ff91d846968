// Lists that are changed one thing at a time.

export function without<T>(items: readonly T[], i: number): T[] {
  return items.filter((_, at) => at !== i);
}

export function changed<T>(items: readonly T[], i: number, part: Partial<T>): T[] {
  return items.map((item, at) => (at === i ? { ...item, ...part } : item));
}

export function toggled(items: readonly string[], id: string, on: boolean): string[] {
  return on ? [...items.filter((item) => item !== id), id] : items.filter((item) => item !== id);
}
