// An instrument as one sees it who bends over it, and where what it shows is written.
import type { Schemas } from '@/shared/api/client';
import { Typeset } from '@/shared/ui/Typeset';

interface Props {
  face: Schemas['Face'];
  text: string;
  /** Where it would be written; null where nothing is read from it in this table. */
  target: { symbol: string; place: string } | null;
  onWrite: () => void;
}

export function FaceCard({ face, text, target, onWrite }: Props) {
  const over = text === 'over';
  return (
    <div className="face" role="group" aria-label={face.name}>
      <span className="face-name">{face.name}</span>
      <span className={`face-glass mono${over ? ' over' : ''}`}>
        <span>{over ? '— — —' : text.replace('-', '−')}</span>
        <span className="face-unit">{over ? 'over range' : face.unit}</span>
      </span>
      {target && (
        <button type="button" className="face-write" disabled={over || !text} onClick={onWrite} aria-keyshortcuts={face.key}>
          <span>
            Write down <kbd>{face.key.toUpperCase()}</kbd>
          </span>
          <span className="quiet">
            <Typeset text={target.symbol} />, {target.place}
          </span>
        </button>
      )}
    </div>
  );
}
