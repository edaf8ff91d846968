// Rise over run of a fit: a triangle under its line, with the words of both.
import type { Schemas } from '@/shared/api/client';
import type { Plot } from './plot';

interface Props {
  triangle: Schemas['RiseOverRun'];
  plot: Plot;
}

export function TriangleLegs({ triangle, plot }: Props) {
  return <path className="graph-triangle" d={`M${plot.x(triangle.from_x)} ${plot.y(triangle.from_y)}H${plot.x(triangle.to_x)}V${plot.y(triangle.to_y)}`} />;
}

export function TriangleWords({ triangle, plot }: Props) {
  return (
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
  );
}
