// A line that is being drawn by eye, over the graph, and what it leaves of the points in the strip below.
import type { Schemas } from '@/shared/api/client';
import { EyeLine, type EyeLineProps } from './EyeLine';
import type { Plot } from './plot';

type Point = Schemas['FigurePoint'];
/** The line, with what it leaves of the points by their keys. */
export type Eye = EyeLineProps & { residuals: ReadonlyMap<string, number> };

interface Props {
  eye: Eye;
  points: readonly Point[];
  plot: Plot;
  below: Plot | null;
  size: readonly [number, number];
  clip: string;
}

/** A layer of its own: what is dragged is painted alone, however many points lie below it. */
export function EyeLayer({ eye, points, plot, below, size: [width, height], clip }: Props) {
  return (
    <svg className="graph-eye-layer" width={width} height={height} viewBox={`0 0 ${width} ${height}`}>
      {below && (
        <path className="graph-eye-residual" clipPath={`url(#${clip}strip)`} d={points.map((p) => stick(p, eye.residuals.get(p.key), below)).join('')} />
      )}
      <EyeLine plot={plot} line={eye.line} onMove={eye.onMove} clip={clip} />
    </svg>
  );
}

/** What a line by eye leaves of a point, beside the stick of the fit; it is cut off where it is far larger than those. */
function stick(p: Point, residual: number | undefined, below: Plot): string {
  return residual === undefined ? '' : `M${below.x(p.x) + 4} ${below.y(0)}V${below.y(residual)}`;
}
