// One tab at a time. Web Locks where there are any; over plain http, where there are none, a lease in the database that tabs share.
import { v4 as newUuid } from 'uuid';
import { openDatabase } from './database';

const LEASE = 6000;
const RENEW = 2000;
const ASK_AGAIN = 500;

/** Do the work when no other tab is doing work of this name. */
export async function alone(name: string, work: () => Promise<void>): Promise<void> {
  // the types say that every browser has locks; over plain http none has
  const locks = (navigator as { locks?: LockManager }).locks;
  if (locks) {
    await locks.request(`hobrel:${name}`, work);
    return;
  }
  await whileLeased(name, newUuid(), work);
}

/** The same by a lease that is renewed while the work lasts, and free again some seconds after its holder was last heard of. */
export async function whileLeased(name: string, holder: string, work: () => Promise<void>): Promise<void> {
  while (!(await takeLease(name, holder))) await new Promise((then) => setTimeout(then, ASK_AGAIN));
  const renewing = setInterval(() => void takeLease(name, holder), RENEW);
  try {
    await work();
  } finally {
    clearInterval(renewing);
    await leaveLease(name, holder).catch(() => undefined);
  }
}

/** A device that keeps nothing keeps no leases either: then everybody sends, and ids make that harmless. */
async function takeLease(name: string, holder: string): Promise<boolean> {
  try {
    return await tryLease(name, holder);
  } catch {
    return true;
  }
}

async function tryLease(name: string, holder: string): Promise<boolean> {
  const turn = (await openDatabase()).transaction('leases', 'readwrite');
  const held = await turn.store.get(name);
  const free = !held || held.holder === holder || held.until < Date.now();
  if (free) await turn.store.put({ name, holder, until: Date.now() + LEASE });
  await turn.done;
  return free;
}

async function leaveLease(name: string, holder: string): Promise<void> {
  const turn = (await openDatabase()).transaction('leases', 'readwrite');
  if ((await turn.store.get(name))?.holder === holder) await turn.store.delete(name);
  await turn.done;
}
