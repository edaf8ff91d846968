// The page for when there is no network: a worker is put in place where the connection is secure, and the answers that it keeps are one person’s (decision 39).
import { v4 as newUuid } from 'uuid';

const ANSWERS = 'hobrel-answers-';
const FILES = 'hobrel-files-';
const ON_ITS_WAY = 10_000;
const USED = /^\/(static\/assets\/|api\/(me|classes|books\/\d+)$)/;

const canKeep = () => import.meta.env.PROD && window.isSecureContext && 'serviceWorker' in navigator && 'caches' in window;

/** Somebody signs in or out: nothing that was answered to the one before stays. */
export async function renewAnswers(somebody: boolean): Promise<void> {
  if (!canKeep()) return;
  for (const name of await caches.keys()) if (name.startsWith(ANSWERS)) await caches.delete(name);
  if (somebody) await caches.open(ANSWERS + newUuid());
}

/** Whether the server still gives this very page: one that it had before its renewal would be kept with answers that it cannot read. */
async function isNewest(): Promise<boolean> {
  const page = await fetch('/').then((answer) => answer.text());
  return [...document.scripts].every((script) => !script.src || page.includes(new URL(script.src).pathname));
}

/** Whether the newest worker has kept a page yet. */
async function hasPage(): Promise<boolean> {
  const newest = (await caches.keys()).filter((name) => name.startsWith(FILES)).at(-1);
  return newest !== undefined && (await (await caches.open(newest)).match('/')) !== undefined;
}

/** Put the worker in place; a new one is told what the page had fetched before it came. */
export async function keepPage(somebody: boolean): Promise<void> {
  if (!canKeep()) return;
  if (somebody && !(await caches.keys()).some((name) => name.startsWith(ANSWERS))) await caches.open(ANSWERS + newUuid());
  const here = window.location.origin;
  let told = false;
  const tell = async () => {
    const used = performance.getEntriesByType('resource').map((entry) => entry.name);
    const { active } = await navigator.serviceWorker.ready;
    active?.postMessage([`${here}/`, ...new Set(used.filter((name) => name.startsWith(here) && USED.test(new URL(name).pathname)))]);
  };
  const tellNew = async () => {
    if (told || (await hasPage()) || !(await isNewest())) return;
    told = true;
    await tell();
    // what was on its way when the worker came went past it, and is listed only when it has arrived
    setTimeout(() => void tell(), ON_ITS_WAY);
  };
  navigator.serviceWorker.addEventListener('controllerchange', () => void tellNew().catch(() => undefined));
  await navigator.serviceWorker.register('/sw.js');
  await navigator.serviceWorker.ready;
  await tellNew();
}
