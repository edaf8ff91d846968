// A point of a graph with its bars, its words and its residual; it can be walked to, pressed and lifted.
import { type PointerEvent, memo, useRef } from 'react';
import type { Schemas } from '@/shared/api/client';
import { Marker, colourOf } from './marker';
import { type Plot, shorten } from './plot';

type Point = Schemas['FigurePoint'];

/** How many pixels a point is moved before it counts as lifted, not pressed. */
const LIFTED = 4;
const KEY_LIFT = 3;
/** Room for the words beside a point. */
const WORDS_BESIDE = 180;

interface MarkProps {
  point: Point & { look: number; id: string };
  plot: Plot;
  below: Plot | null;
  dense: boolean;
  selected: boolean;
  tabbed: boolean;
  onWalk: (id: string | null) => void;
  onSelect: ((key: string) => void) | undefined;
  onLift: ((key: string, y: number | undefined) => void) | undefined;
}

/** A point with its bars and its residual. It is drawn again only when it has changed itself, for there may be a thousand. */
export const PointMark = memo(function PointMark({ point: p, plot, below, dense, selected, tabbed, onWalk, onSelect, onLift }: MarkProps) {
  const held = useRef<{ from: number; lifted: boolean } | null>(null);
  /** Where the point has been lifted to with the arrow keys; it falls back when the focus leaves it. */
  const byKey = useRef<number | null>(null);
  const lift = (e: PointerEvent<SVGGElement>) => {
    const grip = held.current;
    if (!grip || !onLift || p.set_aside) return;
    if (!grip.lifted && Math.abs(e.clientY - grip.from) < LIFTED) return;
    grip.lifted = true;
    const box = e.currentTarget.ownerSVGElement?.getBoundingClientRect();
    onLift(p.key, plot.yAt(Math.min(plot.bottom, Math.max(plot.top, e.clientY - (box?.top ?? 0)))));
  };
  return (
    <g
      data-point={p.id}
      data-light={p.key}
      className={`graph-point${selected ? ' selected' : ''}`}
      tabIndex={tabbed ? 0 : -1}
      role="img"
      aria-label={p.set_aside ? `${p.label}, set aside` : p.label}
      onFocus={() => onWalk(p.id)}
      onBlur={() => {
        onWalk(null);
        if (byKey.current !== null) onLift?.(p.key, undefined);
        byKey.current = null;
      }}
      onMouseEnter={() => onWalk(p.id)}
      onMouseLeave={() => onWalk(null)}
      onClick={() => {
        if (!held.current?.lifted) onSelect?.(p.key);
        held.current = null;
      }}
      onPointerDown={(e) => {
        held.current = { from: e.clientY, lifted: false };
        if (onLift) e.currentTarget.setPointerCapture(e.pointerId);
      }}
      onPointerMove={lift}
      onPointerUp={() => {
        if (held.current?.lifted) onLift?.(p.key, undefined);
      }}
      onKeyDown={(e) => {
        if (e.key === 'Enter') onSelect?.(p.key);
        const step = { ArrowUp: -1, ArrowDown: 1 }[e.key];
        if (step === undefined || !onLift || p.set_aside) return;
        e.preventDefault();
        byKey.current = (byKey.current ?? plot.y(p.y)) + step * (e.shiftKey ? 5 * KEY_LIFT : KEY_LIFT);
        onLift(p.key, plot.yAt(byKey.current));
      }}
    >
      <DataPoint point={p} look={p.look} plot={plot} dense={dense} />
      {below && p.residual !== null && p.residual !== undefined && <ResidualStick point={p} look={p.look} plot={below} dense={dense} />}
      <title>{p.label}</title>
    </g>
  );
});

/** Caps of bars; among many points they would run into each other. */
function caps(x: number, from: number, to: number, dense: boolean): string {
  return dense ? '' : `M${x - 3} ${from}H${x + 3}M${x - 3} ${to}H${x + 3}`;
}

function DataPoint({ point, look, plot, dense }: { point: Point; look: number; plot: Plot; dense: boolean }) {
  const x = plot.x(point.x);
  const y = plot.y(point.y);
  if (point.set_aside) return <path className="graph-aside" d={`M${x - 4} ${y - 4}L${x + 4} ${y + 4}M${x - 4} ${y + 4}L${x + 4} ${y - 4}`} />;
  const up = plot.y(point.y + point.uy);
  const down = plot.y(point.y - point.uy);
  const left = plot.x(point.x - point.ux);
  const right = plot.x(point.x + point.ux);
  const reach = Math.max(down - y, right - x);
  // at the right of the plot its words stand on the other side
  const aside = x > plot.right - WORDS_BESIDE;
  return (
    <>
      <path
        fill="none"
        stroke={colourOf(look)}
        strokeWidth={1.2}
        d={`${point.uy ? `M${x} ${up}V${down}${caps(x, up, down, dense)}` : ''}${point.ux ? `M${left} ${y}H${right}${dense ? '' : `M${left} ${y - 3}V${y + 3}M${right} ${y - 3}V${y + 3}`}` : ''}`}
      />
      <Marker x={x} y={y} look={look} size={dense ? 0.8 : reach > 0 && reach < 4 ? 2 : 3.8} />
      {point.words && (
        <text className="graph-words" x={aside ? x - 8 : x + 8} y={y - 6} textAnchor={aside ? 'end' : 'start'}>
          {shorten(point.words, WORDS_BESIDE)}
        </text>
      )}
      <circle className="graph-target" cx={x} cy={y} r={dense ? 4 : 11} />
    </>
  );
}

function ResidualStick({ point, look, plot, dense }: { point: Point; look: number; plot: Plot; dense: boolean }) {
  const x = plot.x(point.x);
  const residual = point.residual ?? 0;
  const u = point.residual_u ?? 0;
  const up = plot.y(residual + u);
  const down = plot.y(residual - u);
  return (
    <g>
      <line className="graph-stick" x1={x} x2={x} y1={plot.y(0)} y2={plot.y(residual)} />
      {u > 0 && <path className="graph-residual-bar" d={`M${x} ${up}V${down}${caps(x, up, down, dense)}`} />}
      <Marker x={x} y={plot.y(residual)} look={look} size={dense ? 0.7 : 2.6} />
    </g>
  );
}
