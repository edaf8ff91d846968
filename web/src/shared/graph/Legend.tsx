// What each colour and shape stands for, and choosing others. Pressing a series hides it from the graph; its readings stay, and fits go on using them.
import type { Schemas } from '@/shared/api/client';
import { Typeset } from '@/shared/ui/Typeset';
import { LookChooser, Swatch } from './LookChooser';

interface Props {
  series: readonly Schemas['PointSeries'][];
  onHide: ((key: string) => void) | undefined;
  onLook: ((key: string, look: number | null) => void) | undefined;
}

export function Legend({ series, onHide, onLook }: Props) {
  return (
    <figcaption className="graph-legend">
      {series.map((s) => (
        <span key={s.key || s.name}>
          {onLook ? <LookChooser name={s.name} look={s.look} onChoose={(look) => onLook(s.key, look)} /> : <Swatch look={s.look} />}
          {onHide ? (
            <button
              type="button"
              className={s.hidden ? 'hidden' : ''}
              aria-pressed={!s.hidden}
              title={s.hidden ? 'Show it again' : 'Hide it from the graph; nothing is deleted'}
              onClick={() => onHide(s.key)}
            >
              <Typeset text={s.name} />
              {s.hidden && <span className="quiet"> (hidden)</span>}
            </button>
          ) : (
            <Typeset text={s.name} />
          )}
        </span>
      ))}
    </figcaption>
  );
}
