// The page for when there is no network: a worker is put in place where the connection is secure, and the answers that it keeps are one person’s (decision 39).
import { v4 as newUuid } from 'uuid';
import { isOfThisForm } from './form';

const ANSWERS = 'hobrel-answers-';
const ON_ITS_WAY = 10_000;
const USED = /^\/(static\/assets\/|api\/(me|classes|books\/\d+)$)/;

const canKeep = () => import.meta.env.PROD && window.isSecureContext && 'serviceWorker' in navigator && 'caches' in window;

/** Somebody signs in or out: nothing that was answered to the one before stays. */
export async function renewAnswers(somebody: boolean): Promise<void> {
  if (!canKeep()) return;
  for (const name of await caches.keys()) if (name.startsWith(ANSWERS)) await caches.delete(name);
  if (somebody) await caches.open(ANSWERS + newUuid());
}

/** What was answered to a page before the server was renewed cannot be read by this one. */
async function dropUnreadable(): Promise<void> {
  for (const name of (await caches.keys()).filter((name) => name.startsWith(ANSWERS))) {
    const answers = await caches.open(name);
    for (const request of await answers.keys()) {
      const answer = await answers.match(request);
      if (answer && !isOfThisForm(answer)) await answers.delete(request);
    }
  }
}

/** Put the worker in place; the first one is told what the page had fetched before there was any. */
export async function keepPage(somebody: boolean): Promise<void> {
  if (!canKeep()) return;
  if (somebody && !(await caches.keys()).some((name) => name.startsWith(ANSWERS))) await caches.open(ANSWERS + newUuid());
  await dropUnreadable();
  const isFirst = navigator.serviceWorker.controller === null;
  await navigator.serviceWorker.register('/sw.js');
  if (!isFirst) return;
  const { active } = await navigator.serviceWorker.ready;
  const here = window.location.origin;
  const tell = () => {
    const used = performance.getEntriesByType('resource').map((entry) => entry.name);
    active?.postMessage([`${here}/`, ...new Set(used.filter((name) => name.startsWith(here) && USED.test(new URL(name).pathname)))]);
  };
  tell();
  // what was on its way when the worker came went past it, and is listed only when it has arrived
  setTimeout(tell, ON_ITS_WAY);
}
