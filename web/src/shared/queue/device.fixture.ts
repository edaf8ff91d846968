// A device of its own for a test of the queue: an empty database, empty storage, no locks of the browser's own, as over plain http.
import 'fake-indexeddb/auto';
import { IDBFactory } from 'fake-indexeddb';
import { vi } from 'vitest';
import { forgetDatabase } from './database';

/** Returns how to leave the page. */
export function freshDevice(): () => void {
  globalThis.indexedDB = new IDBFactory();
  forgetDatabase();
  vi.stubGlobal('navigator', {});
  const stored = new Map<string, string>();
  vi.stubGlobal('localStorage', {
    getItem: (key: string) => stored.get(key) ?? null,
    setItem: (key: string, value: string) => void stored.set(key, value),
    removeItem: (key: string) => void stored.delete(key),
  });
  const leaving = new EventTarget();
  vi.stubGlobal('addEventListener', leaving.addEventListener.bind(leaving));
  vi.stubGlobal('removeEventListener', leaving.removeEventListener.bind(leaving));
  return () => leaving.dispatchEvent(new Event('pagehide'));
}
