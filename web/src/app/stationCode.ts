// Where the code of each station is.
import type { ComponentType } from 'react';
import type { StageName } from '@/shared/api/client';

type Loaded = Promise<{ default: ComponentType }>;

export const loaders: Record<StageName, () => Loaded> = {
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

/** The code of a station by its address; nothing where there is no such station. */
export function loadStation(stage: string): Loaded | undefined {
  return stage in loaders ? loaders[stage as StageName]() : undefined;
}
