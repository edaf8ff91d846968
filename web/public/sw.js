// Keeps the page, the files that it has used and the last answers for when there is no network (decision 39).
// The server writes the build in the place of the marker, so that a new build is a new worker.
const BUILD = '__BUILD__';
const FILES = `hobrel-files-${BUILD}`;
const ANSWERS = 'hobrel-answers-';
const KEPT = /^\/api\/(me|classes|books\/\d+)$/;

self.addEventListener('activate', (event) => event.waitUntil(takeOver()));

self.addEventListener('message', (event) => event.waitUntil(keepUsed(event.data)));

self.addEventListener('fetch', (event) => {
  const { request } = event;
  const { origin, pathname } = new URL(request.url);
  if (request.method !== 'GET' || origin !== self.location.origin) return;
  if (pathname.startsWith('/static/assets/')) event.respondWith(fileFirst(request));
  else if (request.mode === 'navigate' && !pathname.startsWith('/api/')) event.respondWith(networkFirst(request, () => FILES, '/', findPageBefore));
  else if (KEPT.test(pathname)) event.respondWith(networkFirst(request, findAnswers, request));
});

/**
 * A new worker waits until no page is open: one that takes over beneath a page can lose the address that it is just being sent to.
 * The files of the build before are kept for the page that comes while there is no network.
 */
async function takeOver() {
  for (const name of (await findOlder()).slice(0, -1)) await caches.delete(name);
  await self.clients.claim();
}

/** What the first page had used before there was a worker. */
async function keepUsed(addresses) {
  for (const address of addresses) {
    const request = new Request(address);
    const { pathname } = new URL(address);
    const kept = pathname.startsWith('/static/assets/')
      ? fileFirst(request)
      : KEPT.test(pathname)
        ? networkFirst(request, findAnswers, request)
        : networkFirst(request, () => FILES, '/');
    await kept.catch(() => undefined);
  }
}

async function fileFirst(request) {
  const kept = await caches.match(request);
  if (kept) return kept;
  const answer = await fetch(request);
  if (answer.ok) await keep(FILES, request, answer.clone());
  return answer;
}

/** The store of the one who is signed in; there is none while nobody is. */
async function findAnswers() {
  return (await caches.keys()).find((name) => name.startsWith(ANSWERS));
}

/** The files of the builds before, the latest last. */
async function findOlder() {
  return (await caches.keys()).filter((name) => name.startsWith('hobrel-files-') && name !== FILES);
}

/** Where the page was last kept, for a new worker that has kept none yet. */
async function findPageBefore() {
  return (await findOlder()).at(-1);
}

async function networkFirst(request, find, key, findElse = () => undefined) {
  const store = await find();
  try {
    const answer = await fetch(request);
    // whoever has signed out while it was on its way has taken the store along
    if (answer.ok && store && (store === FILES || (await caches.has(store)))) await keep(store, key, answer.clone());
    return answer;
  } catch (trouble) {
    const kept = (await look(store, key)) ?? (await look(await findElse(), key));
    if (kept) return kept;
    throw trouble;
  }
}

async function look(store, key) {
  return store && (await caches.has(store)) ? (await caches.open(store)).match(key, { ignoreSearch: true }) : undefined;
}

/** Where there is no room it is not kept. */
async function keep(store, key, answer) {
  try {
    await (await caches.open(store)).put(key, answer);
  } catch {
    return;
  }
}
