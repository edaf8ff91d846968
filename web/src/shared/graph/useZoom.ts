// Looking closer at a graph: by wheel, by pinch, by dragging an axis, or with keys. The axes follow at once; when they have stood
// still for a moment the range is kept. Until the server has answered that, the axes stay as they were left: an answer to what was
// wanted before it must not take the hand back.
import { type PointerEvent, type RefObject, useEffect, useRef, useState } from 'react';
import type { Figure, Schemas } from '@/shared/api/client';
import { endsOf, type Plot, shareOf, valueAt } from './plot';

export interface Range {
  x_low: number | null;
  x_high: number | null;
  y_low: number | null;
  y_high: number | null;
}

/** As the points need it. */
export const AS_NEEDED: Range = { x_low: null, x_high: null, y_low: null, y_high: null };

type Axis = Schemas['Axis'];
type Which = 'x' | 'y';

/** Axes as the hand has left them. */
interface Held {
  x: Axis;
  y: Axis;
  /** The server has been asked to keep them, or something else in their place. */
  asked: boolean;
}

const SETTLED = 350;
const STEP = 1.2;

function between(axis: Axis, from: number, to: number): Axis {
  return { ...axis, low: valueAt(axis, from), high: valueAt(axis, to) };
}

function about(axis: Axis, at: number, factor: number): Axis {
  const share = shareOf(axis, at);
  return between(axis, share - share * factor, share + (1 - share) * factor);
}

const NOTCH = 100;
const IN_PIXELS = [1, 33, 400] as const;
const MOST_TURNS = 8;

/** How many turns of a wheel an event tells of: a busy page gets several as one, a touchpad parts of one, and two fingers smaller parts. */
export function turnsOf(e: Pick<WheelEvent, 'deltaY' | 'deltaMode' | 'ctrlKey'>): number {
  const pixels = e.deltaY * (IN_PIXELS[e.deltaMode] ?? 1);
  const fingers = e.ctrlKey && Math.abs(pixels) < NOTCH / 2;
  return Math.max(-MOST_TURNS, Math.min(MOST_TURNS, pixels / (fingers ? NOTCH / 4 : NOTCH)));
}

/** By a share of what is shown. */
const moved = (axis: Axis, by: number) => between(axis, by, 1 + by);

export function useZoom(
  figure: Figure,
  svg: RefObject<SVGSVGElement | null>,
  plotOf: (x: Axis, y: Axis) => Plot,
  onRange: ((range: Range) => void) | undefined,
  isBeingPlaced: boolean,
) {
  const [held, setHeld] = useState<Held | null>(null);
  const timer = useRef<number | undefined>(undefined);
  const drag = useRef<{ which: Which; from: number; x: Axis; y: Axis } | null>(null);
  // all that was asked for is drawn, or refused
  if (held?.asked && !isBeingPlaced) setHeld(null);
  const x = held?.x ?? figure.x_axis;
  const y = held?.y ?? figure.y_axis;

  /** Asked first: whoever sees that it was asked for sees too that it is on its way. */
  const ask = (choose: () => void) => {
    choose();
    setHeld((now) => now && { ...now, asked: true });
  };

  const show = (wanted: { x: Axis; y: Axis }) => {
    if (!onRange) return;
    // kinds have no range to look closer at
    const next = { x: wanted.x.named ? figure.x_axis : wanted.x, y: wanted.y };
    const [along, up] = [endsOf(next.x), endsOf(next.y)];
    const range = { x_low: next.x.named ? null : along.low, x_high: next.x.named ? null : along.high, y_low: up.low, y_high: up.high };
    setHeld({ ...next, asked: false });
    window.clearTimeout(timer.current);
    timer.current = window.setTimeout(() => ask(() => onRange(range)), SETTLED);
  };
  const zoom = (factor: number, atX: number, atY: number, axes: Which | 'both') =>
    show({ x: axes === 'y' ? x : about(x, atX, factor), y: axes === 'x' ? y : about(y, atY, factor) });

  const wheel = (e: WheelEvent) => {
    const element = svg.current;
    if (!element) return;
    const box = element.getBoundingClientRect();
    const plot = plotOf(x, y);
    const [px, py] = [e.clientX - box.left, e.clientY - box.top];
    const onAxis: Which | null = px < plot.left ? 'y' : py > plot.bottom && py < plot.bottom + 48 ? 'x' : null;
    // the page must still scroll past a graph: over the plot the wheel counts once the graph has the focus, or with pinch or Ctrl
    if (!onAxis && !e.ctrlKey && !element.contains(document.activeElement)) return;
    if (py > plot.bottom + 48) return;
    e.preventDefault();
    zoom(STEP ** turnsOf(e), plot.xAt(px), plot.yAt(py), onAxis ?? 'both');
  };
  const newest = useRef(wheel);
  useEffect(() => {
    newest.current = wheel;
  });
  const able = onRange !== undefined;
  useEffect(() => {
    const element = svg.current;
    if (!element || !able) return;
    const listen = (e: WheelEvent) => newest.current(e);
    element.addEventListener('wheel', listen, { passive: false });
    return () => element.removeEventListener('wheel', listen);
  }, [svg, able]);

  return {
    x,
    y,
    /** Another choice of what is shown, which a closer look that is still to be kept must not overtake. */
    instead: (choose: () => void) => {
      window.clearTimeout(timer.current);
      ask(choose);
    },
    zoomIn: (factor: number) => zoom(factor, valueAt(x, 0.5), valueAt(y, 0.5), 'both'),
    step: STEP,
    /** Handlers of an axis that is dragged along. */
    axis: (which: Which) => ({
      onPointerDown: (e: PointerEvent<SVGRectElement>) => {
        // or the words around it are selected, and the page is scrolled on near its end
        e.preventDefault();
        e.currentTarget.setPointerCapture(e.pointerId);
        drag.current = { which, from: which === 'x' ? e.clientX : e.clientY, x, y };
      },
      onPointerMove: (e: PointerEvent<SVGRectElement>) => {
        const begun = drag.current;
        if (begun?.which !== which) return;
        const plot = plotOf(begun.x, begun.y);
        const pixels = (which === 'x' ? e.clientX : e.clientY) - begun.from;
        const by = which === 'x' ? -pixels / (plot.right - plot.left) : pixels / (plot.bottom - plot.top);
        show(which === 'x' ? { x: moved(begun.x, by), y: begun.y } : { x: begun.x, y: moved(begun.y, by) });
      },
      onPointerUp: () => {
        drag.current = null;
      },
    }),
  };
}
