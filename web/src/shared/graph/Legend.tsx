// What each colour and shape stands for. Pressing a series hides it from the graph; its readings stay, and fits go on using them.
import type { Schemas } from '@/shared/api/client';
import { Marker } from './marker';

export function Legend({ series, onHide }: { series: readonly Schemas['PointSeries'][]; onHide: ((key: string) => void) | undefined }) {
  const swatch = (look: number) => (
    <svg width="18" height="14" aria-hidden="true">
      <Marker x={9} y={7} look={look} size={4} />
    </svg>
  );
  return (
    <figcaption className="graph-legend">
      {series.map((s) =>
        onHide ? (
          <button
            key={s.key}
            type="button"
            className={s.hidden ? 'hidden' : ''}
            aria-pressed={!s.hidden}
            title={s.hidden ? 'Show it again' : 'Hide it from the graph; nothing is deleted'}
            onClick={() => onHide(s.key)}
          >
            {swatch(s.look)}
            {s.name}
            {s.hidden && <span className="quiet"> (hidden)</span>}
          </button>
        ) : (
          <span key={s.key || s.name}>
            {swatch(s.look)}
            {s.name}
          </span>
        ),
      )}
    </figcaption>
  );
}
