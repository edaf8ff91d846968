// Where data are on the screen: the only arithmetic of a graph.
import type { Schemas } from '@/shared/api/client';

type Axis = Schemas['Axis'];

type RichText = Axis['label'];

/** Width of a letter of an axis title, on the average. */
const LETTER = 7.4;

/** What stands along an axis: the name of its quantity before the symbol, where there is room for both. */
export function titleOf(axis: Axis, room: number): RichText {
  const whole: RichText = [{ text: `${axis.name}, `, style: 'plain' }, ...axis.label];
  return axis.name && widthOf(whole) <= room ? whole : axis.label;
}

export const widthOf = (text: RichText) => LETTER * text.reduce((letters, run) => letters + run.text.length, 0);

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

export function makePlot(xAxis: Axis, yAxis: Axis, left: number, top: number, width: number, height: number): Plot {
  return {
    x: (v) => left + ((v - xAxis.low) / (xAxis.high - xAxis.low)) * width,
    y: (v) => top + ((yAxis.high - v) / (yAxis.high - yAxis.low)) * height,
    xAt: (p) => xAxis.low + ((p - left) / width) * (xAxis.high - xAxis.low),
    yAt: (p) => yAxis.high - ((p - top) / height) * (yAxis.high - yAxis.low),
    left,
    right: left + width,
    top,
    bottom: top + height,
  };
}
