// Work that takes longer than half a second is named, with how long it has taken: whoever waits knows for what.
export const SOON = 500;

const words: Record<string, string> = {
  'POST /api/books/{book_id}/bring-in/look': 'Looking the file over',
  'POST /api/books/{book_id}/bring-in': 'Bringing the readings in',
  'GET /api/books/{book_id}/ways': 'Carrying the ± through in four ways',
  'GET /api/books/{book_id}/improvements': 'Working out what would help most',
  'GET /api/books/{book_id}/working': 'Writing the working out',
  'GET /api/books/{book_id}/history': 'Fetching the history',
  'GET /api/books/{book_id}/at/{revision}': 'Fetching the lab book as it was',
  'POST /api/books/{book_id}/hand-in': 'Handing in',
  'GET /api/hand-ins/{hand_in_id}/changes': 'Comparing with the one before',
  'GET /api/books/{book_id}/report': 'Putting the report together',
  'POST /api/books/{book_id}/pictures': 'Keeping the picture',
  'POST /api/plans': 'Writing the plan',
  'POST /api/plans/file': 'Bringing the plan in',
  'POST /api/plans/{plan_id}/demonstration': 'Measuring in another world',
  'POST /api/plans/{plan_id}/pictures': 'Keeping the picture',
  'GET /api/plans/{plan_id}/dry-run': 'Measuring and working out as many benches as were asked for',
  'GET /api/plans/{plan_id}/dry-run/better': 'Trying what would be better, one change after the other',
  'GET /api/plans/{plan_id}/dry-run/for': 'Trying how often it has to be measured',
  'GET /api/practicals/{practical_id}/pool': 'Bringing the benches together',
  'GET /api/practicals/{practical_id}/amendment': 'Looking into every lab book of the practical',
  'POST /api/practicals/{practical_id}/amendment': 'Amending every lab book of the practical',
  'POST /api/practicals/{practical_id}/amendment/back': 'Taking the amendment back in every lab book',
  'POST /api/my-classes/{class_id}/practicals': 'Giving a lab book to every bench',
  'POST /api/my-classes/{class_id}/list/file': 'Reading the list',
  'POST /api/my-classes/{class_id}/next-year': 'Making next year’s class',
  'POST /api/my-classes/{class_id}/erase': 'Erasing the class',
};

export interface Work {
  words: string;
  since: number;
}

let going: readonly Work[] = [];
const watchers = new Set<() => void>();

function change(next: readonly Work[]): void {
  going = next;
  for (const watcher of watchers) watcher();
}

/** What a request does, in words; nothing for one that nobody waits for. */
export function wordsFor(method: string, path: string): string {
  return words[`${method} ${path}`] ?? '';
}

/** Work has begun; what is returned says that it has ended, well or not. Said twice it does no harm. */
export function begin(said: string): () => void {
  if (!said) return () => undefined;
  const work = { words: said, since: performance.now() };
  change([...going, work]);
  return () => change(going.filter((w) => w !== work));
}

export function watch(watcher: () => void): () => void {
  watchers.add(watcher);
  return () => watchers.delete(watcher);
}

export function underway(): readonly Work[] {
  return going;
}

export interface Long {
  words: string;
  /** How long it has gone on; nothing within the first two. */
  seconds: number | null;
}

/** What a lamp says of the work that has gone on longest; nothing of what has only begun. */
export function findLong(works: readonly Work[], now: number): Long | null {
  const longest = works.toSorted((a, b) => a.since - b.since)[0];
  if (!longest || now - longest.since < SOON) return null;
  const seconds = Math.floor((now - longest.since) / 1000);
  return { words: longest.words, seconds: seconds < 2 ? null : seconds };
}
