// A point of a graph with its bars, its words and its residual; it can be walked to, pressed and lifted.
import { type PointerEvent, memo, useRef } from 'react';
import type { Schemas } from '@/shared/api/client';
import look from '@look';
import { Marker, colourOf } from './marker';
import { type Plot, shorten } from './plot';

type Point = Schemas['FigurePoint'];

/** How many pixels a point is moved before it counts as lifted, not pressed. */
const LIFTED = 4;
const KEY_LIFT = 3;
const { point: POINT, residual: RESIDUAL, many: MANY, words: WORDS } = look;

interface MarkProps {
  point: Point & { look: number; id: string };
  plot: Plot;
  below: Plot | null;
  dense: boolean;
  /** Of its marker, the same for all points of a graph. */
  size: number;
  selected: boolean;
  tabbed: boolean;
  /** What a remark on it says. */
  pin: string | undefined;
  onWalk: (id: string | null) => void;
  onSelect: ((key: string) => void) | undefined;
  onLift: ((key: string, y: number | undefined) => void) | undefined;
}

/** A point with its bars and its residual. It is drawn again only when it has changed itself, for there may be a thousand. */
export const PointMark = memo(function PointMark({ point: p, plot, below, dense, size, selected, tabbed, pin, onWalk, onSelect, onLift }: MarkProps) {
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
      aria-label={`${p.label}${p.set_aside ? ', set aside' : ''}${pin ? `, with a remark: ${pin}` : ''}`}
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
      <DataPoint point={p} look={p.look} plot={plot} dense={dense} size={size} />
      {below && p.residual !== null && p.residual !== undefined && <ResidualStick point={p} look={p.look} plot={below} dense={dense} />}
      {pin && <Pin x={plot.x(p.x)} y={plot.y(p.y)} top={plot.top} />}
      <title>{pin ? `${p.label}\n${pin}` : p.label}</title>
    </g>
  );
});

const PIN = { stem: 15, lean: 6, head: 4.5 };

/** That a remark is about this point: a pin stuck into it; below it where there is no room above. */
function Pin({ x, y, top }: { x: number; y: number; top: number }) {
  const up = y - PIN.stem - PIN.head > top ? -1 : 1;
  return (
    <g className="graph-pin">
      <path d={`M${x} ${y}L${x + PIN.lean} ${y + up * PIN.stem}`} />
      <circle cx={x + PIN.lean} cy={y + up * PIN.stem} r={PIN.head} />
    </g>
  );
}

/** Caps of bars; among many points they would run into each other. */
function caps(x: number, from: number, to: number, dense: boolean): string {
  return dense ? '' : `M${x - POINT.cap} ${from}H${x + POINT.cap}M${x - POINT.cap} ${to}H${x + POINT.cap}`;
}

function DataPoint({ point, look: series, plot, dense, size }: { point: Point; look: number; plot: Plot; dense: boolean; size: number }) {
  const x = plot.x(point.x);
  const y = plot.y(point.y);
  const s = POINT.aside;
  if (point.set_aside)
    return <path className="graph-aside" strokeWidth={POINT.aside_width} d={`M${x - s} ${y - s}L${x + s} ${y + s}M${x - s} ${y + s}L${x + s} ${y - s}`} />;
  const up = plot.y(point.y + point.uy);
  const down = plot.y(point.y - point.uy);
  const left = plot.x(point.x - point.ux);
  const right = plot.x(point.x + point.ux);
  // at the right of the plot its words stand on the other side
  const aside = x > plot.right - WORDS.room;
  return (
    <>
      <path
        fill="none"
        stroke={colourOf(series)}
        strokeWidth={POINT.bar}
        d={`${point.uy ? `M${x} ${up}V${down}${caps(x, up, down, dense)}` : ''}${point.ux ? `M${left} ${y}H${right}${dense ? '' : `M${left} ${y - POINT.cap}V${y + POINT.cap}M${right} ${y - POINT.cap}V${y + POINT.cap}`}` : ''}`}
      />
      <Marker x={x} y={y} look={series} size={size} />
      {point.words && (
        <text
          className="graph-words"
          x={aside ? x - WORDS.beside : x + WORDS.beside}
          y={y - WORDS.up}
          fontSize={WORDS.size}
          textAnchor={aside ? 'end' : 'start'}
        >
          {shorten(point.words, WORDS.room)}
        </text>
      )}
      <circle className="graph-target" cx={x} cy={y} r={dense ? 4 : 11} />
    </>
  );
}

function ResidualStick({ point, look: series, plot, dense }: { point: Point; look: number; plot: Plot; dense: boolean }) {
  const x = plot.x(point.x);
  const residual = point.residual ?? 0;
  const u = point.residual_u ?? 0;
  const up = plot.y(residual + u);
  const down = plot.y(residual - u);
  return (
    <g>
      <line className="graph-stick" strokeWidth={RESIDUAL.stick} x1={x} x2={x} y1={plot.y(0)} y2={plot.y(residual)} />
      {u > 0 && <path className="graph-residual-bar" strokeWidth={RESIDUAL.bar} d={`M${x} ${up}V${down}${caps(x, up, down, dense)}`} />}
      <Marker x={x} y={plot.y(residual)} look={series} size={dense ? MANY.residual : RESIDUAL.size} />
    </g>
  );
}
