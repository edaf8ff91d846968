// The trail in one line: nine marks, filled as far as each stage is, with a saffron notch where slips wait.
import type { StageMark } from '@/shared/api/client';
import type { SeenMark } from '@/shared/book/seen';
import { told } from '@/shared/ui/told';

export const stageNames: Record<StageMark['stage'], string> = {
  ask: 'Ask',
  read: 'Read',
  average: 'Average',
  look: 'Look',
  straighten: 'Straighten',
  fit: 'Fit',
  find: 'Find',
  pool: 'Pool',
  report: 'Report',
};

export const stateWords = { not_opened: 'not opened yet', ready: 'ready', in_progress: 'begun', done: 'done' } as const;

export function MiniTrail({ stages }: { stages: SeenMark[] }) {
  const words = stages.map((s) => `${stageNames[s.stage]} ${stateWords[s.state]}`).join(', ');
  return (
    <svg width="234" height="26" viewBox="0 0 234 26" role="img" aria-label={words}>
      <line x1="12" x2="222" y1="13" y2="13" stroke="var(--rule)" strokeWidth="2" />
      {stages.map((s, i) => (
        <g key={s.stage} transform={`translate(${12 + i * 26} 13)`}>
          <title>{[stageNames[s.stage], told(s.words)].filter(Boolean).join(': ')}</title>
          <StateDot state={s.state} />
          {s.slips > 0 && <path d="M4 -10h7v7z" fill="var(--saffron)" />}
        </g>
      ))}
    </svg>
  );
}

export function StateDot({ state }: { state: SeenMark['state'] }) {
  return (
    <>
      <circle r="6.5" fill="var(--sheet)" stroke={state === 'not_opened' ? 'var(--edge)' : 'var(--plum)'} strokeWidth="1.6" />
      {state === 'done' && <circle r="6.5" fill="var(--plum)" />}
      {state === 'ready' && <circle r="2.2" fill="var(--plum)" />}
      {state === 'in_progress' && <path d="M0 -6.5A6.5 6.5 0 0 0 0 6.5Z" fill="var(--plum)" />}
    </>
  );
}
