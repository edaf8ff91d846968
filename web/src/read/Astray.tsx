// Who writes across while Enter goes down, or the other way round, is offered to have it turned.
import type { Direction } from './direction';

export function Astray({ direction, onTurn, onLeave }: { direction: Direction; onTurn: () => void; onLeave: () => void }) {
  return (
    <p className="notice row" role="status">
      You seem to write {direction === 'down' ? 'along the rows' : 'down the columns'}, and Enter goes the other way.
      <button type="button" className="notice-act" onClick={onTurn}>
        Let Enter go {direction === 'down' ? 'across' : 'down'}
      </button>
      <button type="button" className="notice-act" onClick={onLeave}>
        Leave it
      </button>
    </p>
  );
}
