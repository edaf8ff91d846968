// The axis below a number line, with its ticks and its unit.
import type { Schemas } from '@/shared/api/client';
import { withRoom } from './plot';

interface Props {
  line: Schemas['NumberLine'];
  place: (value: number) => number;
  from: number;
  to: number;
  y: number;
}

export function NumberAxis({ line, place, from, to, y }: Props) {
  return (
    <>
      <line className="number-line-axis" x1={from} x2={to} y1={y} y2={y} />
      {withRoom(line.ticks, place).map(({ value, text }) => (
        <g key={value}>
          <line className="number-line-axis" x1={place(value)} x2={place(value)} y1={y} y2={y + 5} />
          <text x={place(value)} y={y + 20} textAnchor="middle">
            {text}
          </text>
        </g>
      ))}
      <text x={to} y={y + 40} textAnchor="end">
        {line.unit}
      </text>
    </>
  );
}
