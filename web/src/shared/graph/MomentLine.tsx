// A moment: an upright line with its name along it, on the side where there is room.
import type { Schemas } from '@/shared/api/client';
import look from '@look';
import { strokeOf } from './marker';
import type { Plot } from './plot';

export function MomentLine({ moment, plot }: { moment: Schemas['FigureMoment']; plot: Plot }) {
  const x = plot.x(moment.x);
  if (x < plot.left || x > plot.right) return null;
  const side = x > (plot.left + plot.right) / 2 ? look.moment.before : look.moment.behind;
  return (
    <g className="graph-moment">
      <line x1={x} x2={x} y1={plot.top} y2={plot.bottom} {...strokeOf(look.moment)} />
      <text transform={`translate(${x + side} ${plot.top + look.moment.down}) rotate(-90)`} textAnchor="end" fontSize={look.moment.size}>
        {moment.name}
      </text>
    </g>
  );
}
