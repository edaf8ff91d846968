// The graph: ink axes left and bottom, hollow points never joined, bars, model lines, and the residual strip below.
// It draws a figure description made by the core; the only arithmetic here maps data to pixels.
import { type KeyboardEvent, type PointerEvent, memo, useId, useMemo, useRef, useState } from 'react';
import type { Figure, Schemas } from '@/shared/api/client';
import { told } from '@/shared/ui/told';
import { AxisLines, Rules } from './Axes';
import { type AxisChoices, AxisLabels } from './AxisLabels';
import { EyeLine, type EyeLineProps } from './EyeLine';
import { Equations } from './Equations';
import { Legend } from './Legend';
import { MomentLine } from './MomentLine';
import { ReadMark } from './ReadMark';
import { MarkArea, type Stretch } from './MarkArea';
import { Marker, colourOf } from './marker';
import { type MoveNote, Notes } from './Notes';
import { type Plot, makePlot, shorten } from './plot';
import { useWidth } from './useWidth';
import { AS_NEEDED, type Range, useZoom } from './useZoom';
import './graph.css';

type Axis = Schemas['Axis'];
type Point = Schemas['FigurePoint'];

const LEFT = 74;
const RIGHT = 14;
const TOP = 12;
const BOTTOM = 50;
const STRIP = 96;
/** From so many points on, they are dots and their bars have no caps. */
const DENSE = 150;
/** How many pixels a point is moved before it counts as lifted, not pressed. */
const LIFTED = 4;
const KEY_LIFT = 3;
/** Room for the words beside a point. */
const WORDS_BESIDE = 180;

export function Graph({
  figure,
  height = 400,
  selected,
  onSelect,
  residuals = true,
  eye,
  marked,
  onMark,
  onLift,
  lifts,
  triangle,
  spot,
  onRange,
  onOrigin,
  readOff,
  onHide,
  onLook,
  onMoveNote,
  choices,
  onCursor,
  onPick,
}: {
  figure: Figure;
  height?: number;
  selected?: string | null;
  onSelect?: (key: string) => void;
  residuals?: boolean;
  /** A line that is being drawn by eye, with what it leaves of the points by their keys. */
  eye?: EyeLineProps & { residuals: ReadonlyMap<string, number> };
  /** A marked stretch of x, and marking one by dragging across the plot. */
  marked?: Stretch | null;
  onMark?: (stretch: Stretch | null) => void;
  /** A point is being dragged up or down to see what would follow; undefined when it is let go. */
  onLift?: (key: string, y: number | undefined) => void;
  /** The series whose points can be lifted: the one that is fitted. */
  lifts?: string;
  /** Rise over run of a fit, drawn under it. */
  triangle?: Schemas['RiseOverRun'] | null;
  /** A place to be pointed out, as the steepest. */
  spot?: { x: number; y: number } | null;
  /** Another range was chosen, by zooming or dragging an axis; all null for as the points need it. */
  onRange?: (range: Range) => void;
  onOrigin?: () => void;
  /** What was read off the fit, to be shown where it was. */
  readOff?: Schemas['ReadValue'] | undefined;
  onHide?: (series: string) => void;
  onLook?: (series: string, look: number | null) => void;
  onMoveNote?: MoveNote;
  /** Pressing the label of an axis offers these quantities for it. */
  choices?: AxisChoices;
  /** Where the pointer is along x, over the plot; null when it leaves. */
  onCursor?: (x: number | null) => void;
  /** A place along x was pressed. */
  onPick?: (x: number) => void;
}) {
  const [place, width] = useWidth<HTMLElement>(720);
  const svg = useRef<SVGSVGElement>(null);
  /** Where a stretch that is marked with Shift and the arrow keys began. */
  const anchor = useRef<number | null>(null);
  const clip = useId();
  const [walked, setWalked] = useState<string | null>(null);
  const strip = residuals ? (figure.residual_axis ?? null) : null;
  const plotOf = (x: Axis, y: Axis) => makePlot(x, y, LEFT, TOP, width - LEFT - RIGHT, height - TOP - BOTTOM);
  const zoom = useZoom(figure, svg, plotOf, onRange);
  const { x: xAxis, y: yAxis } = zoom;
  const plot = useMemo(() => makePlot(xAxis, yAxis, LEFT, TOP, width - LEFT - RIGHT, height - TOP - BOTTOM), [xAxis, yAxis, width, height]);
  const below = useMemo(() => (strip ? makePlot(xAxis, strip, LEFT, height + 8, width - LEFT - RIGHT, STRIP - 16) : null), [xAxis, strip, width, height]);
  const total = height + (below ? STRIP : 0);
  const points = useMemo(
    () =>
      figure.series
        .flatMap((s) => s.points.map((p) => ({ ...p, look: s.look, id: `${s.key || s.name}:${p.key}`, series: s.key })))
        .filter((p) => p.x >= xAxis.low && p.x <= xAxis.high && p.y >= yAxis.low && p.y <= yAxis.high)
        .sort((a, b) => a.x - b.x),
    [figure, xAxis, yAxis],
  );
  const dense = points.length > DENSE;
  // among many points every place is near one
  const stops = useMemo(() => (dense ? [] : points.filter((p) => !p.set_aside).map((p) => p.x)), [points, dense]);
  // kept as they are while a line is dragged over them
  const marks = useMemo(
    () =>
      points.map((p) => (
        <PointMark
          key={p.id}
          point={p}
          plot={plot}
          below={below}
          dense={dense}
          selected={p.key === selected}
          tabbed={(walked ?? points[0]?.id) === p.id}
          onWalk={setWalked}
          onSelect={onSelect}
          onLift={lifts === undefined || p.series === lifts ? onLift : undefined}
        />
      )),
    [points, plot, below, dense, selected, walked, onSelect, onLift, lifts],
  );
  const read = points.find((p) => p.id === walked) ?? points.find((p) => p.key === selected);

  const walk = (e: KeyboardEvent<SVGSVGElement>) => {
    if (!e.ctrlKey && !e.metaKey && !e.altKey && onRange) {
      if (e.key === 'f') onRange(AS_NEEDED);
      else if (e.key === '0') onOrigin?.();
      else if (e.key === '+' || e.key === '-') zoom.zoomIn(e.key === '+' ? 1 / zoom.step : zoom.step);
    }
    const step = { ArrowRight: 1, ArrowLeft: -1 }[e.key];
    if (step === undefined || points.length === 0) return;
    e.preventDefault();
    const at = points.findIndex((p) => p.id === walked);
    const next = points[Math.min(points.length - 1, Math.max(0, at < 0 ? 0 : at + step))];
    if (!next) return;
    if (e.shiftKey && onMark) {
      const from = (at < 0 ? undefined : (anchor.current ?? points[at]?.x)) ?? next.x;
      anchor.current = from;
      onMark({ low: Math.min(from, next.x), high: Math.max(from, next.x) });
    } else anchor.current = null;
    setWalked(next.id);
    const element = [...e.currentTarget.querySelectorAll<SVGGElement>('[data-point]')].find((g) => g.dataset.point === next.id);
    element?.focus();
  };

  return (
    <figure ref={place} className="graph">
      <svg
        ref={svg}
        width={width}
        height={total}
        viewBox={`0 0 ${width} ${total}`}
        role="group"
        aria-label={told(figure.summary)}
        onKeyDown={walk}
        data-graph={figure.title}
      >
        <clipPath id={clip}>
          <rect x={plot.left} y={plot.top} width={plot.right - plot.left} height={plot.bottom - plot.top} />
        </clipPath>
        {below && (
          <clipPath id={`${clip}strip`}>
            <rect x={below.left} y={below.top} width={below.right - below.left + 4} height={below.bottom - below.top} />
          </clipPath>
        )}
        <Rules xAxis={xAxis} yAxis={yAxis} plot={plot} />
        {figure.sketch && (
          <polyline
            className="graph-sketch"
            points={figure.sketch.x
              .map((x, i) => `${plot.left + x * (plot.right - plot.left)},${plot.bottom - (figure.sketch?.y[i] ?? 0) * (plot.bottom - plot.top)}`)
              .join(' ')}
          />
        )}
        {onRange && (
          <>
            {!xAxis.named && (
              <rect className="graph-axis-grip along" x={plot.left} y={plot.bottom} width={plot.right - plot.left} height={24} {...zoom.axis('x')} />
            )}
            <rect className="graph-axis-grip up" x={plot.left - 46} y={plot.top} width={46} height={plot.bottom - plot.top} {...zoom.axis('y')} />
          </>
        )}
        {onMark && <MarkArea plot={plot} marked={marked ?? null} stops={stops} onMark={onMark} onCursor={onCursor} onPick={onPick} />}
        <g clipPath={`url(#${clip})`}>
          {figure.bands.map((band, i) => (
            <polygon
              key={i}
              className="graph-band"
              points={[
                ...band.x.map((x, j) => `${plot.x(x)},${plot.y(band.high[j] ?? 0)}`),
                ...band.x.map((x, j) => `${plot.x(x)},${plot.y(band.low[j] ?? 0)}`).reverse(),
              ].join(' ')}
            />
          ))}
          {figure.lines.map((line, i) => (
            <polyline
              key={i}
              className={`graph-line ${line.kind}`}
              style={line.look === null || line.look === undefined ? undefined : { stroke: colourOf(line.look) }}
              points={line.x.map((x, j) => `${plot.x(x)},${plot.y(line.y[j] ?? 0)}`).join(' ')}
            />
          ))}
          {triangle && (
            <path className="graph-triangle" d={`M${plot.x(triangle.from_x)} ${plot.y(triangle.from_y)}H${plot.x(triangle.to_x)}V${plot.y(triangle.to_y)}`} />
          )}
          {readOff && <ReadMark read={readOff} plot={plot} straight={!xAxis.log && !yAxis.log} />}
          {spot && <path className="graph-spot" d={`M${plot.x(spot.x)} ${plot.top}V${plot.bottom}`} />}
        </g>
        {triangle && (
          <g className="graph-triangle-words">
            <text
              x={(plot.x(triangle.from_x) + plot.x(triangle.to_x)) / 2}
              y={plot.y(triangle.from_y) + (triangle.to_y > triangle.from_y ? 16 : -7)}
              textAnchor="middle"
            >
              {triangle.run}
            </text>
            <text x={plot.x(triangle.to_x) + 6} y={(plot.y(triangle.from_y) + plot.y(triangle.to_y)) / 2 + 4}>
              {triangle.rise}
            </text>
          </g>
        )}
        <AxisLines xAxis={xAxis} yAxis={yAxis} plot={plot} bottomAxis />
        {below && strip && (
          <>
            <line className="graph-zero" x1={below.left} x2={below.right} y1={below.y(0)} y2={below.y(0)} />
            <AxisLines xAxis={xAxis} yAxis={strip} plot={below} bottomAxis={false} />
          </>
        )}
        {figure.moments.map((m) => (
          <MomentLine key={m.id} moment={m} plot={plot} />
        ))}
        <Equations figure={figure} plot={plot} />
        {marks}
        <Notes notes={figure.notes.filter((n) => n.x >= xAxis.low && n.x <= xAxis.high)} plot={plot} onMove={onMoveNote} />
      </svg>
      {eye && (
        // a layer of its own: what is dragged is painted alone, however many points lie below it
        <svg className="graph-eye-layer" width={width} height={total} viewBox={`0 0 ${width} ${total}`}>
          {below && (
            <path className="graph-eye-residual" clipPath={`url(#${clip}strip)`} d={points.map((p) => eyeStick(p, eye.residuals.get(p.key), below)).join('')} />
          )}
          <EyeLine plot={plot} line={eye.line} onMove={eye.onMove} clip={clip} />
        </svg>
      )}
      {choices && <AxisLabels choices={choices} xAxis={xAxis} yAxis={yAxis} plot={plot} />}
      {onRange && (
        <div className="graph-corner" style={{ top: plot.bottom + 8 }}>
          <button type="button" title="Fit to the data (f)" onClick={() => onRange(AS_NEEDED)}>
            fit
          </button>
          {onOrigin && (
            <button type="button" title="Bring the origin in, or let it go (0)" onClick={onOrigin}>
              0
            </button>
          )}
        </div>
      )}
      {figure.series.length > 1 && <Legend series={figure.series} onHide={onHide} onLook={onLook} />}
      <div className="graph-readout" aria-live="polite">
        {read ? read.label : ' '}
      </div>
    </figure>
  );
}

/** The ticks that lie within what is shown: while an axis is dragged, those of before still stand. */
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
const PointMark = memo(function PointMark({ point: p, plot, below, dense, selected, tabbed, onWalk, onSelect, onLift }: MarkProps) {
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

/** What a line by eye leaves of a point, beside the stick of the fit; it is cut off where it is far larger than those. */
function eyeStick(p: Point, residual: number | undefined, below: Plot): string {
  return residual === undefined ? '' : `M${below.x(p.x) + 4} ${below.y(0)}V${below.y(residual)}`;
}

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
