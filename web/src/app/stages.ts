// The stations, loaded when a station is first opened, or while nothing else is to be done.
import type { StageName } from '@/shared/api/client';
import { type Later, later } from '@/shared/ui/later';
import { loaders } from './stationCode';

export const order = Object.keys(loaders) as StageName[];

export const stations = Object.fromEntries(order.map((stage) => [stage, later(loaders[stage])])) as Record<StageName, Later<object>>;

/** Whether the device has been told to be sparing with what it fetches; not every browser says. */
const sparing = () => (navigator as { connection?: { saveData?: boolean } }).connection?.saveData === true;

/**
 * Load the other stations one after another, so that each opens without a network. One that cannot be had is had later, and where data
 * is dear each is had when it is opened.
 */
export function loadRest(): () => void {
  if (sparing()) return () => undefined;
  let stopped = false;
  const idle = (then: () => void) => ('requestIdleCallback' in window ? window.requestIdleCallback(then, { timeout: 5000 }) : setTimeout(then, 800));
  const next = (left: StageName[]) => {
    const [first, ...rest] = left;
    if (!first) return;
    idle(() => {
      if (stopped) return;
      void stations[first].bring().then(
        () => next(rest),
        () => undefined,
      );
    });
  };
  // the station that is wanted now comes first, with all it needs
  const begun = setTimeout(() => next(order), 1500);
  return () => {
    stopped = true;
    clearTimeout(begun);
  };
}
