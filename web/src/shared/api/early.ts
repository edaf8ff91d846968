// What the first view certainly needs is asked for before the code that draws it has arrived; the client then takes the answer that is on its way.
const KEPT = 15_000;
const asked = new Map<string, Promise<Response>>();

export function runKey(book: number): string {
  return `hobrel:run:${book}`;
}

/** Where a lab book is asked for, seen from the run that was looked at last on this device. */
export function bookAddress(book: number): string {
  return `/api/books/${book}?run=${encodeURIComponent(localStorage.getItem(runKey(book)) ?? '')}`;
}

const addressOf = (path: string) => new URL(path, window.location.origin).href;

export function askEarly(path: string): void {
  const address = addressOf(path);
  const answer = fetch(address);
  // said where it is taken; until then nobody misses it
  answer.catch(() => undefined);
  asked.set(address, answer);
  // whoever comes later wants what is so later
  setTimeout(() => asked.delete(address), KEPT);
}

/** When the answer to what was asked early has come, or will not come; at once where nothing was asked. */
export async function earlyAnswer(path: string): Promise<void> {
  await asked.get(addressOf(path))?.catch(() => undefined);
}

/** Send a request, or take the answer to the same one that was asked early: once, and only a good one. */
export async function fetchOrTake(request: Request): Promise<Response> {
  const early = request.method === 'GET' ? asked.get(request.url) : undefined;
  if (!early) return fetch(request);
  asked.delete(request.url);
  const answer = await early.catch(() => null);
  return answer?.ok ? answer : fetch(request);
}
