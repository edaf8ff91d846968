// Marking a stretch of x by dragging across the plot. Its ends snap to points that they come near.
import { type PointerEvent, useState } from 'react';
import { type Plot, snapped } from './plot';

export interface Stretch {
  low: number;
  high: number;
}

const LEAST = 6;
/** How near to a point an end snaps to it, in pixels. */
const NEAR = 9;

interface Props {
  plot: Plot;
  marked: Stretch | null;
  /** Where the points stand along x. */
  stops: readonly number[];
  onMark: (stretch: Stretch | null) => void;
  onCursor: ((x: number | null) => void) | undefined;
  onPick: ((x: number) => void) | undefined;
}

export function MarkArea({ plot, marked, stops, onMark, onCursor, onPick }: Props) {
  const [drag, setDrag] = useState<{ from: number; to: number } | null>(null);
  const place = (e: PointerEvent<SVGRectElement>) => {
    const box = e.currentTarget.ownerSVGElement?.getBoundingClientRect();
    return Math.min(plot.right, Math.max(plot.left, e.clientX - (box?.left ?? 0)));
  };
  // the place of a point itself, not of its pixel, so that the point belongs to the stretch
  const end = (pixel: number) => {
    const at = snapped(pixel, stops.map(plot.x), NEAR);
    return stops.find((stop) => plot.x(stop) === at) ?? plot.xAt(at);
  };
  const shown = drag ? { from: plot.x(end(drag.from)), to: plot.x(end(drag.to)) } : marked && { from: plot.x(marked.low), to: plot.x(marked.high) };
  return (
    <>
      {shown && (
        <rect
          className="graph-marked"
          x={Math.min(shown.from, shown.to)}
          width={Math.abs(shown.to - shown.from)}
          y={plot.top}
          height={plot.bottom - plot.top}
        />
      )}
      <rect
        className="graph-mark-area"
        x={plot.left}
        y={plot.top}
        width={plot.right - plot.left}
        height={plot.bottom - plot.top}
        onPointerDown={(e) => {
          if (e.button !== 0) return;
          e.currentTarget.setPointerCapture(e.pointerId);
          setDrag({ from: place(e), to: place(e) });
        }}
        onPointerMove={(e) => {
          if (drag) setDrag({ from: drag.from, to: place(e) });
          else onCursor?.(plot.xAt(place(e)));
        }}
        onPointerLeave={() => onCursor?.(null)}
        onPointerUp={(e) => {
          if (!drag) return;
          const [a, b] = [drag.from, place(e)];
          setDrag(null);
          if (Math.abs(b - a) >= LEAST) onMark({ low: end(Math.min(a, b)), high: end(Math.max(a, b)) });
          else {
            onMark(null);
            onPick?.(plot.xAt(b));
          }
        }}
      />
    </>
  );
}
