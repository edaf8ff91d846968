// The graph: ink axes left and bottom, hollow points never joined, bars, model lines, and the residual strip below.
// It draws a figure description made by the core; the only arithmetic here maps data to pixels.
import { type KeyboardEvent, useId, useMemo, useRef, useState } from 'react';
import type { Figure, Schemas } from '@/shared/api/client';
import { told } from '@/shared/ui/told';
import look from '@look';
import { AxisLines, Rules } from './Axes';
import { type AxisChoices, AxisLabels } from './AxisLabels';
import { Corner } from './Corner';
import { type Eye, EyeLayer } from './EyeLayer';
import { Equations } from './Equations';
import { Legend } from './Legend';
import { Lines } from './Lines';
import { MomentLine } from './MomentLine';
import { ReadMark } from './ReadMark';
import { MarkArea, type Stretch } from './MarkArea';
import { strokeOf } from './marker';
import { type MoveNote, Notes } from './Notes';
import { makePlot, sizeOfPoints } from './plot';
import { PointMark } from './PointMark';
import { TriangleLegs, TriangleWords } from './Triangle';
import { useWidth } from './useWidth';
import { useKeptFocus } from './useKeptFocus';
import { AS_NEEDED, type Range, useZoom } from './useZoom';
import './graph.css';
import { Typeset } from '@/shared/ui/Typeset';

type Axis = Schemas['Axis'];

const { left: LEFT, right: RIGHT, top: TOP, bottom: BOTTOM } = look.room;
const { height: STRIP, gap: GAP, inset: INSET } = look.strip;

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
  isBeingPlaced = false,
  onOrigin,
  readOff,
  onHide,
  onLook,
  onMoveNote,
  choices,
  onCursor,
  onPick,
  onPlay,
  isPlayed = false,
  pins,
}: {
  figure: Figure;
  height?: number;
  selected?: string | null;
  onSelect?: (key: string) => void;
  residuals?: boolean;
  /** Remarks on points, by their keys. */
  pins?: ReadonlyMap<string, string>;
  /** A line that is being drawn by eye. */
  eye?: Eye;
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
  /** What was chosen of it is on its way: the figure is not the answer yet. */
  isBeingPlaced?: boolean;
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
  /** It is over time, and can be played as motion. */
  onPlay?: (() => void) | undefined;
  isPlayed?: boolean;
}) {
  const [place, width] = useWidth<HTMLElement>(720);
  const svg = useRef<SVGSVGElement>(null);
  /** Where a stretch that is marked with Shift and the arrow keys began. */
  const anchor = useRef<number | null>(null);
  const clip = useId();
  const [walked, setWalked] = useState<string | null>(null);
  const strip = residuals ? (figure.residual_axis ?? null) : null;
  const plotOf = (x: Axis, y: Axis) => makePlot(x, y, LEFT, TOP, width - LEFT - RIGHT, height - TOP - BOTTOM);
  const zoom = useZoom(figure, svg, plotOf, onRange, isBeingPlaced);
  const fit = onRange && (() => zoom.instead(() => onRange(AS_NEEDED)));
  const origin = onRange && onOrigin && (() => zoom.instead(onOrigin));
  const { x: xAxis, y: yAxis } = zoom;
  const plot = useMemo(() => makePlot(xAxis, yAxis, LEFT, TOP, width - LEFT - RIGHT, height - TOP - BOTTOM), [xAxis, yAxis, width, height]);
  const below = useMemo(() => (strip ? makePlot(xAxis, strip, LEFT, height + GAP, width - LEFT - RIGHT, STRIP - INSET) : null), [xAxis, strip, width, height]);
  const total = height + (below ? STRIP : 0);
  const points = useMemo(
    () =>
      figure.series
        .flatMap((s) => s.points.map((p) => ({ ...p, look: s.look, id: `${s.key || s.name}:${p.key}`, series: s.key })))
        .filter((p) => p.x >= xAxis.low && p.x <= xAxis.high && p.y >= yAxis.low && p.y <= yAxis.high)
        .sort((a, b) => a.x - b.x),
    [figure, xAxis, yAxis],
  );
  // one that is drawn no more cannot be come to
  const tabbed = (points.find((p) => p.id === walked) ?? points[0])?.id;
  const keptFocus = useKeptFocus(svg, points);
  // dots, whose bars have no caps
  const dense = points.length > look.many.least;
  const stops = useMemo(() => points.filter((p) => !p.set_aside).map((p) => p.x), [points]);
  const size = useMemo(() => sizeOfPoints(points, plot), [points, plot]);
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
          size={size}
          selected={p.key === selected}
          tabbed={tabbed === p.id}
          pin={pins?.get(p.key)}
          onWalk={setWalked}
          onSelect={onSelect}
          onLift={lifts === undefined || p.series === lifts ? onLift : undefined}
        />
      )),
    [points, plot, below, dense, size, selected, tabbed, pins, onSelect, onLift, lifts],
  );
  const read = points.find((p) => p.id === walked) ?? points.find((p) => p.key === selected);

  const walk = (e: KeyboardEvent<SVGSVGElement>) => {
    if (!e.ctrlKey && !e.metaKey && !e.altKey && onRange) {
      if (e.key === 'f') fit?.();
      else if (e.key === '0') origin?.();
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
        tabIndex={-1}
        onKeyDown={walk}
        {...keptFocus}
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
            opacity={look.sketch.opacity}
            {...strokeOf(look.sketch)}
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
          <Lines figure={figure} plot={plot} />
          {triangle && <TriangleLegs triangle={triangle} plot={plot} />}
          {readOff && <ReadMark read={readOff} plot={plot} straight={!xAxis.log && !yAxis.log} />}
          {spot && <path className="graph-spot" d={`M${plot.x(spot.x)} ${plot.top}V${plot.bottom}`} />}
        </g>
        {triangle && <TriangleWords triangle={triangle} plot={plot} />}
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
      {eye && <EyeLayer eye={eye} points={points} plot={plot} below={below} size={[width, total]} clip={clip} />}
      {choices && <AxisLabels choices={choices} xAxis={xAxis} yAxis={yAxis} plot={plot} />}
      {(onRange ?? onPlay) && <Corner top={plot.bottom + 8} onFit={fit} onOrigin={origin} onPlay={onPlay} isPlayed={isPlayed} />}
      {figure.series.length > 1 && <Legend series={figure.series} onHide={onHide} onLook={onLook} />}
      <div className="graph-readout" aria-live="polite">
        {read ? <Typeset text={read.label} /> : ' '}
      </div>
    </figure>
  );
}
