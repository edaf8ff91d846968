// The trail: the chain from question to report is the navigation, each station with a live miniature of what it holds.
import { Link } from 'react-router';
import type { StageMark } from '@/shared/api/client';
import { useBook } from '@/shared/book/context';
import { type SeenMark, seenMarks } from '@/shared/book/seen';
import { StateDot, stageNames, stateWords } from '@/shared/ui/MiniTrail';
import { told } from '@/shared/ui/told';
import { Miniature } from './Miniature';

/** The stations with their places; a lab book of one's own has no class to pool with. */
function stagesOf(stages: SeenMark[], isOwn: boolean): { mark: SeenMark; i: number }[] {
  return stages.map((mark, i) => ({ mark, i })).filter(({ mark }) => !isOwn || mark.stage !== 'pool');
}

export function Trail({ current }: { current: StageMark['stage'] }) {
  const { state, analysis } = useBook(({ state, analysis }) => ({ state, analysis }));
  const seen = seenMarks(analysis.stages, state.opened && state.can_edit ? [...state.opened, current] : state.opened);
  return (
    <nav className="trail" aria-label="Stages of the lab book">
      {stagesOf(seen, state.owner !== null && state.plan === null).map(({ mark, i }) => (
        <Link
          key={mark.stage}
          to={`/books/${state.id}/${mark.stage}`}
          aria-current={mark.stage === current ? 'page' : undefined}
          aria-label={`${stageNames[mark.stage]}, ${stateWords[mark.state]}: ${told(mark.words)}${mark.slips ? `, ${mark.slips} to look at` : ''}`}
          title={`${told(mark.words)} (Alt+${i + 1})`}
        >
          <Miniature stage={mark.stage} />
          <span className="trail-name">
            <span className="trail-number" aria-hidden="true">
              {i + 1}
            </span>
            <svg width="13" height="13" viewBox="-7.5 -7.5 15 15" aria-hidden="true">
              <StateDot state={mark.state} />
            </svg>
            {stageNames[mark.stage]}
          </span>
          <span className="trail-words">{told(mark.words)}</span>
          {mark.slips > 0 && (
            <span className="trail-slips" aria-hidden="true">
              {mark.slips}
            </span>
          )}
        </Link>
      ))}
    </nav>
  );
}
