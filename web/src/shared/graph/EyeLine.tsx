// A line drawn by eye: two handles that are dragged, or moved with the arrow keys. Only its pixels are computed here.
import { type KeyboardEvent, type PointerEvent, useRef } from 'react';
import type { Plot } from './plot';

export interface Line {
  gradient: number;
  intercept: number;
}

export interface EyeLineProps {
  line: Line;
  /** `done`: let go, so that it may be kept. */
  onMove: (line: Line, done: boolean) => void;
}

const SHARE = 0.1;
const FINE = 0.5;
const COARSE = 5;

/** The line through two places. */
export function lineThrough(a: [number, number], b: [number, number]): Line {
  const gradient = (b[1] - a[1]) / (b[0] - a[0]);
  return { gradient, intercept: a[1] - gradient * a[0] };
}

export function EyeLine({ plot, line, onMove, clip }: EyeLineProps & { plot: Plot; clip: string }) {
  const held = useRef<number | null>(null);
  const reach = plot.right - plot.left;
  // the handles stay at two places of x, near the ends of what is shown
  const places = [plot.xAt(plot.left + SHARE * reach), plot.xAt(plot.right - SHARE * reach)] as const;
  const at = (x: number) => line.gradient * x + line.intercept;
  const moved = (which: number, y: number, done: boolean) => {
    const other = places[1 - which] ?? 0;
    const x = places[which] ?? 0;
    onMove(lineThrough([x, y], [other, at(other)]), done);
  };
  const place = (e: PointerEvent<SVGCircleElement>) => {
    const box = e.currentTarget.ownerSVGElement?.getBoundingClientRect();
    return plot.yAt(Math.min(plot.bottom, Math.max(plot.top, e.clientY - (box?.top ?? 0))));
  };
  const press = (which: number, e: KeyboardEvent) => {
    const step = { ArrowUp: -1, ArrowDown: 1 }[e.key];
    if (step === undefined) return;
    e.preventDefault();
    e.stopPropagation();
    const pixel = plot.y(at(places[which] ?? 0)) + step * (e.shiftKey ? COARSE : FINE);
    moved(which, plot.yAt(pixel), true);
  };
  const [low, high] = [plot.xAt(plot.left), plot.xAt(plot.right)];
  return (
    <g className="graph-eye">
      <line clipPath={`url(#${clip})`} x1={plot.left} x2={plot.right} y1={plot.y(at(low))} y2={plot.y(at(high))} />
      {places.map((x, which) => (
        <circle
          key={which}
          cx={plot.x(x)}
          cy={plot.y(at(x))}
          r={8}
          tabIndex={0}
          role="slider"
          aria-label={which ? 'Right handle of the line by eye' : 'Left handle of the line by eye'}
          aria-valuenow={at(x)}
          aria-valuetext={at(x).toPrecision(3)}
          onPointerDown={(e) => {
            held.current = which;
            e.currentTarget.setPointerCapture(e.pointerId);
          }}
          onPointerMove={(e) => {
            if (held.current === which) moved(which, place(e), false);
          }}
          onPointerUp={(e) => {
            if (held.current !== which) return;
            held.current = null;
            moved(which, place(e), true);
          }}
          onKeyDown={(e) => press(which, e)}
        />
      ))}
    </g>
  );
}
