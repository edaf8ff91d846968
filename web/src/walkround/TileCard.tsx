// A bench on the walkround: who is there, how far it is, its last graph, and what it needs.
import { Link } from 'react-router';
import { seenMarks } from '@/shared/book/seen';
import { MiniTrail } from '@/shared/ui/MiniTrail';
import { SmallGraph } from './SmallGraph';
import { addressOf, DIRECTIONS, sinceWords, type Need, type Tile } from './tiles';

const NAMES: Record<Need, string> = {
  hand: 'hand up',
  not_worked_out: 'cannot be worked out',
  factor: 'off by a factor',
  far: 'far from the class',
  failed: 'formula',
  slip: 'slip',
  stuck: 'stuck?',
  answered: 'answered',
  changed_since: 'changed since',
  not_opened: 'not opened',
  handed_in: 'handed in',
};

interface Props {
  tile: Tile;
  /** On the projector nothing is said of anybody. */
  bare: boolean;
  arranging: boolean;
  /** How many needs are said; each in a line of its own where there are several. */
  most: number;
  onMove: (dx: number, dy: number) => void;
  onDrag: (bench: number) => void;
  onHandDown: () => void;
}

export function TileCard({ tile, bare, arranging, most, onMove, onDrag, onHandDown }: Props) {
  const needs = bare ? [] : tile.needs;
  const [first] = needs;
  // what is found is not told by pointing at it either
  const stages = bare ? tile.stages.map((mark) => ({ ...mark, slips: 0, words: [] })) : tile.stages;
  return (
    <article
      className={`tile need-${first?.kind ?? 'none'}`}
      draggable={arranging}
      onDragStart={() => onDrag(tile.bench_id)}
      onKeyDown={(e) => {
        const step = arranging && e.altKey ? DIRECTIONS[e.key] : undefined;
        if (!step) return;
        e.preventDefault();
        e.stopPropagation();
        onMove(...step);
      }}
    >
      <div className="tile-head">
        <Link to={addressOf(tile.book, first)} data-tile={tile.book}>
          {tile.bench}
        </Link>
        {first?.kind === 'hand' ? (
          <button type="button" className="tile-hand" onClick={onHandDown}>
            I have been there
          </button>
        ) : (
          !bare && (
            <span className="quiet tile-since" title={tile.here.length > 0 ? `Here now: ${tile.here.join(', ')}` : 'Nobody has it open now'}>
              {tile.here.length > 0 && (
                <>
                  <span className="tile-here" aria-hidden="true" />
                  {tile.here.length} here ·{' '}
                </>
              )}
              {sinceWords(tile.changed)}
            </span>
          )
        )}
      </div>
      {!bare && <p className="quiet tile-names">{tile.names.join(', ') || 'nobody sits here'}</p>}
      <MiniTrail stages={seenMarks(stages, tile.opened)} />
      <div className="tile-body">
        <SmallGraph graph={tile.graph} />
        {!bare && (
          <div className="tile-words">
            {needs.slice(0, most).map((need, i) => (
              <p key={i} className={most > 1 ? 'tile-line' : 'tile-need'}>
                <Link to={addressOf(tile.book, need)} title={need.text}>
                  <b>{NAMES[need.kind]}</b> {need.text}
                </Link>
              </p>
            ))}
            {needs.length > most && <p className="quiet">and {needs.length - most} more</p>}
            {needs.length === 0 && <p className="quiet">Nothing noticed.</p>}
            {tile.finding && <p className="mono tile-finding">{tile.finding}</p>}
          </div>
        )}
      </div>
    </article>
  );
}
