// The stations, loaded when a station is first opened, or while nothing else is to be done.
import { type ComponentType, lazy } from 'react';
import type { StageName } from '@/shared/api/client';
import { loaders } from './stationCode';

export const order = Object.keys(loaders) as StageName[];

const stages = new Map<StageName, ComponentType>();

export function stageOf(stage: StageName): ComponentType {
  const known = stages.get(stage);
  if (known) return known;
  const Stage = lazy(loaders[stage]);
  stages.set(stage, Stage);
  return Stage;
}

/** One that could not be loaded is loaded anew when it is wanted again. */
export function forgetStage(stage: StageName): void {
  stages.delete(stage);
}

/** Load the other stations one after another, so that each opens without a network. One that cannot be had is had later. */
export function loadRest(): () => void {
  let stopped = false;
  const idle = (then: () => void) => ('requestIdleCallback' in window ? window.requestIdleCallback(then, { timeout: 5000 }) : setTimeout(then, 800));
  const next = (left: StageName[]) => {
    const [first, ...rest] = left;
    if (!first || stopped) return;
    idle(() => {
      void loaders[first]().then(
        () => next(rest),
        () => undefined,
      );
    });
  };
  // the station that is wanted now comes first, with all it needs
  const later = setTimeout(() => next(order), 1500);
  return () => {
    stopped = true;
    clearTimeout(later);
  };
}
