// The axes of a graph, the rules behind it, and what stands beside them.
import type { RichText, Schemas } from '@/shared/api/client';
import { plain } from '@/shared/ui/Rich';
import look from '@look';
import { type Plot, shareOf, shorten, titleOf, withRoom } from './plot';

type Axis = Schemas['Axis'];

const { axis: LINE, text: TEXT } = look;

function ticksOf(axis: Axis) {
  return axis.ticks.filter((t) => {
    const share = shareOf(axis, t.value);
    return share >= -1e-9 && share <= 1 + 1e-9;
  });
}

/** What is written along x: numbers as far as there is room for them, and every kind. */
function numbersAlong(axis: Axis, plot: Plot): Axis['ticks'] {
  const ticks = ticksOf(axis);
  return axis.named ? ticks.map((t) => ({ ...t, text: shorten(t.text, (plot.right - plot.left) / ticks.length) })) : withRoom(ticks, plot.x);
}

export function Rules({ xAxis, yAxis, plot }: { xAxis: Axis; yAxis: Axis; plot: Plot }) {
  return (
    <g className="graph-rules" aria-hidden="true">
      {ticksOf(xAxis).map((t) => (
        <line key={`x${t.value}`} x1={plot.x(t.value)} x2={plot.x(t.value)} y1={plot.top} y2={plot.bottom} />
      ))}
      {ticksOf(yAxis).map((t) => (
        <line key={`y${t.value}`} x1={plot.left} x2={plot.right} y1={plot.y(t.value)} y2={plot.y(t.value)} />
      ))}
    </g>
  );
}

export function AxisLines({ xAxis, yAxis, plot, bottomAxis }: { xAxis: Axis; yAxis: Axis; plot: Plot; bottomAxis: boolean }) {
  const middle = (plot.top + plot.bottom) / 2;
  return (
    <g className="graph-axes" aria-hidden="true" fontSize={TEXT.size} strokeWidth={LINE.width}>
      <line x1={plot.left} x2={plot.left} y1={plot.top} y2={plot.bottom} />
      {bottomAxis && <line x1={plot.left} x2={plot.right} y1={plot.bottom} y2={plot.bottom} />}
      {bottomAxis &&
        numbersAlong(xAxis, plot).map((t) => (
          <g key={t.value}>
            <line x1={plot.x(t.value)} x2={plot.x(t.value)} y1={plot.bottom} y2={plot.bottom + LINE.tick} />
            <text x={plot.x(t.value)} y={plot.bottom + LINE.x_words} textAnchor="middle">
              {t.text}
            </text>
          </g>
        ))}
      {ticksOf(yAxis).map((t) => (
        <g key={t.value}>
          <line x1={plot.left - LINE.tick} x2={plot.left} y1={plot.y(t.value)} y2={plot.y(t.value)} />
          <text x={plot.left - LINE.y_words} y={plot.y(t.value) + LINE.y_sunk} textAnchor="end">
            {t.text}
          </text>
        </g>
      ))}
      {bottomAxis && <RichLabel text={titleOf(xAxis, plot.right - plot.left)} x={plot.right} y={plot.bottom + LINE.x_title} anchor="end" />}
      <g transform={`translate(${LINE.y_title} ${middle}) rotate(-90)`}>
        <RichLabel text={titleOf(yAxis, plot.bottom - plot.top)} x={0} y={0} anchor="middle" />
      </g>
    </g>
  );
}

export function RichLabel({
  text,
  x,
  y,
  anchor,
  colour,
  size = TEXT.title,
}: {
  text: RichText;
  x: number;
  y: number;
  anchor: 'start' | 'middle' | 'end';
  colour?: string;
  size?: number;
}) {
  const shifts = text.map((run) => (run.style === 'sup' ? TEXT.raised_by : run.style === 'sub' ? TEXT.lowered_by : 0));
  return (
    <text x={x} y={y} textAnchor={anchor} className="graph-label" fill={colour} fontSize={size} aria-label={plain(text)}>
      {text.map((run, i) => (
        <tspan
          key={i}
          dy={(shifts[i] ?? 0) - (shifts[i - 1] ?? 0)}
          fontStyle={run.style === 'italic' ? 'italic' : undefined}
          fontSize={shifts[i] ? TEXT.small : undefined}
        >
          {run.text}
        </tspan>
      ))}
    </text>
  );
}
