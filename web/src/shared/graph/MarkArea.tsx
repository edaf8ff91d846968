// Marking a stretch of x by dragging across the plot.
import { type PointerEvent, useState } from 'react';
import type { Plot } from './plot';

export interface Stretch {
  low: number;
  high: number;
}

const LEAST = 6;

interface Props {
  plot: Plot;
  marked: Stretch | null;
  onMark: (stretch: Stretch | null) => void;
  onCursor: ((x: number | null) => void) | undefined;
  onPick: ((x: number) => void) | undefined;
}

export function MarkArea({ plot, marked, onMark, onCursor, onPick }: Props) {
  const [drag, setDrag] = useState<{ from: number; to: number } | null>(null);
  const place = (e: PointerEvent<SVGRectElement>) => {
    const box = e.currentTarget.ownerSVGElement?.getBoundingClientRect();
    return Math.min(plot.right, Math.max(plot.left, e.clientX - (box?.left ?? 0)));
  };
  const shown = drag ?? (marked && { from: plot.x(marked.low), to: plot.x(marked.high) });
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
          if (Math.abs(b - a) >= LEAST) onMark({ low: plot.xAt(Math.min(a, b)), high: plot.xAt(Math.max(a, b)) });
          else {
            onMark(null);
            onPick?.(plot.xAt(b));
          }
        }}
      />
    </>
  );
}
