// Where data are on the screen: the only arithmetic of a graph.
import type { Schemas } from '@/shared/api/client';
import look from '@look';

type Axis = Schemas['Axis'];

type RichText = Axis['label'];

const LETTER = look.text.letter;

/** What stands along an axis: the name of its quantity before the symbol, where there is room for both. */
export function titleOf(axis: Axis, room: number): RichText {
  const whole: RichText = [{ text: `${axis.name}, `, style: 'plain' }, ...axis.label];
  return axis.name && widthOf(whole) <= room ? whole : axis.label;
}

export const widthOf = (text: RichText) => LETTER * text.reduce((letters, run) => letters + run.text.length, 0);

/** As much of some words as there is room for. */
export function shorten(words: string, room: number): string {
  const most = Math.max(2, Math.floor(room / LETTER));
  return words.length <= most ? words : `${words.slice(0, most - 1).trimEnd()}…`;
}

/** Of ticks the every so many-th whose numbers stand clear of one another. */
export function withRoom<T extends { value: number; text: string }>(ticks: readonly T[], place: (value: number) => number): T[] {
  const [first, second] = ticks;
  const apart = first && second ? Math.abs(place(second.value) - place(first.value)) : Infinity;
  const longest = Math.max(...ticks.map((t) => t.text.length));
  const every = Math.max(1, Math.ceil((longest * 8 + 8) / apart));
  return ticks.filter((_, i) => i % every === 0);
}

/** How far along an axis something lies, from 0 to 1; what a logarithmic one has no place for lies well below it. */
export function shareOf(axis: Axis, value: number): number {
  if (!axis.log) return (value - axis.low) / (axis.high - axis.low);
  return value > 0 ? Math.log(value / axis.low) / Math.log(axis.high / axis.low) : -1;
}

/** What lies so far along an axis. */
export function valueAt(axis: Axis, share: number): number {
  return axis.log ? axis.low * (axis.high / axis.low) ** share : axis.low + share * (axis.high - axis.low);
}

const FIGURES = 6;

/** A place in figures that can be read, no less (or more) than it is, so that a point at the end of a stretch stays in it. */
export function readable(place: number, side: 'below' | 'above'): number {
  const near = Number(place.toPrecision(FIGURES));
  if (near === place || near < place === (side === 'below')) return near;
  const step = 10 ** (Math.floor(Math.log10(Math.abs(place))) + 1 - FIGURES);
  return Number((near + (side === 'below' ? -step : step)).toPrecision(FIGURES));
}

/** The ends of an axis in as many figures as somebody would type: to a thousandth of what is shown, or of each end where it is logarithmic. */
export function endsOf(axis: Axis): { low: number; high: number } {
  const step = 10 ** (Math.floor(Math.log10(axis.high - axis.low)) - 3);
  const near = (v: number) => Number(axis.log ? v.toPrecision(4) : (Math.round(v / step) * step).toPrecision(15));
  return { low: near(axis.low), high: near(axis.high) };
}

/** The nearest of some places to one, where it lies within so many pixels; else the place itself. */
export function snapped(place: number, stops: readonly number[], within: number): number {
  const near = stops.reduce((best, stop) => (Math.abs(stop - place) < Math.abs(best - place) ? stop : best), Infinity);
  return Math.abs(near - place) <= within ? near : place;
}

export interface Plot {
  x: (value: number) => number;
  y: (value: number) => number;
  /** From pixels back to the units of the axes. */
  xAt: (pixel: number) => number;
  yAt: (pixel: number) => number;
  left: number;
  right: number;
  top: number;
  bottom: number;
}

type Point = Pick<Schemas['FigurePoint'], 'x' | 'y' | 'ux' | 'uy' | 'set_aside'>;

/** All points of a graph are of one size: a small one where most of the bars would be hidden. */
export function sizeOfPoints(points: readonly Point[], plot: Plot): number {
  if (points.length > look.many.least) return look.many.size;
  const reaches = points.filter((p) => !p.set_aside && (p.ux || p.uy)).map((p) => Math.max(plot.y(p.y - p.uy) - plot.y(p.y), plot.x(p.x + p.ux) - plot.x(p.x)));
  const hidden = reaches.filter((reach) => reach < look.point.short_bars);
  return 2 * hidden.length > reaches.length ? look.point.over_short_bars : look.point.size;
}

export function makePlot(xAxis: Axis, yAxis: Axis, left: number, top: number, width: number, height: number): Plot {
  return {
    x: (v) => left + shareOf(xAxis, v) * width,
    y: (v) => top + (1 - shareOf(yAxis, v)) * height,
    xAt: (p) => valueAt(xAxis, (p - left) / width),
    yAt: (p) => valueAt(yAxis, 1 - (p - top) / height),
    left,
    right: left + width,
    top,
    bottom: top + height,
  };
}
