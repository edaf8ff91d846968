// The benches of a practical with what they have handed in: what waits first.
import { Link } from 'react-router';
import type { Schemas } from '@/shared/api/client';
import { when } from '@/shared/ui/moments';
import { stateOf } from './facts';

const WORDS = { waits: 'waits', returned: 'returned', accepted: 'accepted', none: 'nothing handed in' };

export function Queue({ practical, queue, chosen }: { practical: number; queue: Schemas['QueueOut']; chosen: number | null }) {
  const rows = queue.grid.length;
  return (
    <ul className="queue" aria-label="Benches">
      {queue.benches.map((bench) => {
        const last = bench.hand_ins.at(-1);
        const state = stateOf(bench);
        const here = bench.hand_ins.some((h) => h.id === chosen);
        return (
          <li key={bench.book}>
            {last ? (
              <Link to={`/practicals/${practical}/hand-ins/${last.id}`} aria-current={here ? 'page' : undefined}>
                <b>{bench.bench}</b> <span className={`tag ${state === 'waits' ? 'warn' : state === 'accepted' ? 'good' : ''}`}>{WORDS[state]}</span>{' '}
                <span className="quiet">
                  {last.number > 1 ? `hand-in ${last.number}, ` : ''}
                  {when(last.at)}
                  {last.late ? ', late' : ''}
                  {bench.changed_since ? ', changed since' : ''}
                  {rows > 0 && `, ${last.marked} of ${rows} marked`}
                </span>
              </Link>
            ) : (
              <span className="queue-none">
                <b>{bench.bench}</b> <span className="quiet">{WORDS.none}</span>
              </span>
            )}
          </li>
        );
      })}
    </ul>
  );
}
