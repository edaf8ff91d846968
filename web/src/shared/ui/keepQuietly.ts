// What is nice to remember and no loss to forget: which station was left, what was unfolded, which way Enter goes.
export function keepQuietly(storage: Storage, key: string, text: string | null): void {
  try {
    if (text === null) storage.removeItem(key);
    else storage.setItem(key, text);
  } catch {
    // a device without room forgets it, and nothing else
  }
}
