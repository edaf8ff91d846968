// Where the code of each station is.
import type { StageName } from '@/shared/api/client';

export const loaders = {
  ask: () => import('@/ask/Ask').then((m) => m.Ask),
  read: () => import('@/read/Read').then((m) => m.Read),
  average: () => import('@/average/Average').then((m) => m.Average),
  look: () => import('@/look/Look').then((m) => m.Look),
  straighten: () => import('@/straighten/Straighten').then((m) => m.Straighten),
  fit: () => import('@/fit/Fit').then((m) => m.Fit),
  find: () => import('@/find/Find').then((m) => m.Find),
  pool: () => import('@/pool/Pool').then((m) => m.PoolStage),
  report: () => import('@/report/Report').then((m) => m.Report),
} as const satisfies Record<StageName, unknown>;

export const isStage = (name: string): name is StageName => name in loaders;
