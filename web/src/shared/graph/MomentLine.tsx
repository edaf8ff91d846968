// A moment: an upright line with its name along it, on the side where there is room.
import type { Schemas } from '@/shared/api/client';
import type { Plot } from './plot';

export function MomentLine({ moment, plot }: { moment: Schemas['FigureMoment']; plot: Plot }) {
  const x = plot.x(moment.x);
  if (x < plot.left || x > plot.right) return null;
  const side = x > (plot.left + plot.right) / 2 ? -5 : 14;
  return (
    <g className="graph-moment">
      <line x1={x} x2={x} y1={plot.top} y2={plot.bottom} />
      <text transform={`translate(${x + side} ${plot.top + 8}) rotate(-90)`} textAnchor="end">
        {moment.name}
      </text>
    </g>
  );
}
