// The trail: the chain from question to report is the navigation, each station with a live miniature of what it holds.
import { Link } from 'react-router';
import type { StageMark } from '@/shared/api/client';
import { useBook } from '@/shared/book/context';
import { type SeenMark, seenMarks } from '@/shared/book/seen';
import { StateDot, stageNames, stateWords } from '@/shared/ui/MiniTrail';
import { told } from '@/shared/ui/told';
import { Miniature } from './Miniature';
import { Typeset } from '@/shared/ui/Typeset';

/** The stations with their places; a lab book of one's own has no class to pool with. */
function stagesOf(stages: SeenMark[], isOwn: boolean): { mark: SeenMark; i: number }[] {
  return stages.map((mark, i) => ({ mark, i })).filter(({ mark }) => !isOwn || mark.stage !== 'pool');
}

interface Props {
  current: StageMark['stage'];
  /** The station that is pegged beside it. */
  beside: StageMark['stage'] | null;
  onPeg: ((stage: StageMark['stage'] | null) => void) | null;
}

export function Trail({ current, beside, onPeg }: Props) {
  const { state, analysis } = useBook(({ state, analysis }) => ({ state, analysis }));
  const seen = seenMarks(analysis.stages, state.opened && state.can_edit ? [...state.opened, current] : state.opened);
  const stations = stagesOf(seen, state.owner !== null && state.plan === null);
  const at = stations.findIndex(({ mark }) => mark.stage === current);
  const place = (n: number) => (n === at ? ' is-current' : n === at - 1 ? ' is-before' : n === at + 1 ? ' is-after' : '');
  return (
    <nav className="trail" aria-label="Stages of the lab book">
      {stations.map(({ mark, i }, n) => (
        <div key={mark.stage} className={`trail-station${place(n)}${mark.stage === beside ? ' is-pegged' : ''}`}>
          <Link
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
            <span className="trail-words">
              <Typeset text={told(mark.words)} />
            </span>
            {mark.slips > 0 && (
              <span className="trail-slips" aria-hidden="true">
                {mark.slips}
              </span>
            )}
          </Link>
          {onPeg && mark.stage !== current && (
            <button
              type="button"
              className="trail-peg"
              aria-pressed={mark.stage === beside}
              aria-label={`Peg ${stageNames[mark.stage]} beside this`}
              title={mark.stage === beside ? 'Take it away again (Alt+P)' : 'Peg it beside this'}
              onClick={() => onPeg(mark.stage === beside ? null : mark.stage)}
            >
              <svg width="12" height="16" viewBox="0 0 12 16" aria-hidden="true">
                <path
                  d="M2 1h8M3.5 1v5L1 9h10L8.5 6V1M6 9v6"
                  fill="none"
                  stroke="currentColor"
                  strokeWidth="1.5"
                  strokeLinejoin="round"
                  strokeLinecap="round"
                />
              </svg>
            </button>
          )}
        </div>
      ))}
    </nav>
  );
}
