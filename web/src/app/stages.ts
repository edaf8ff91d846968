// The stations' code, loaded when a station is first opened, or while nothing else is to be done.
import { type ComponentType, lazy } from 'react';
import type { StageName } from '@/shared/api/client';

type Loaded = Promise<{ default: ComponentType }>;

const loaders: Record<StageName, () => Loaded> = {
  ask: () => import('@/ask/Ask').then((m) => ({ default: m.Ask })),
  read: () => import('@/read/Read').then((m) => ({ default: m.Read })),
  average: () => import('@/average/Average').then((m) => ({ default: m.Average })),
  look: () => import('@/look/Look').then((m) => ({ default: m.Look })),
  straighten: () => import('@/straighten/Straighten').then((m) => ({ default: m.Straighten })),
  fit: () => import('@/fit/Fit').then((m) => ({ default: m.Fit })),
  find: () => import('@/find/Find').then((m) => ({ default: m.Find })),
  pool: () => import('@/pool/Pool').then((m) => ({ default: m.PoolStage })),
  report: () => import('@/report/Report').then((m) => ({ default: m.Report })),
};

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
  next(order);
  return () => {
    stopped = true;
  };
}
