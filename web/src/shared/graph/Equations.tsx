// Equations of what is fitted, in the corner of the plot where least is drawn.
import type { Schemas } from '@/shared/api/client';
import { RichLabel } from './Axes';
import { colourOf } from './marker';
import type { Plot } from './plot';

const LINE = 22;
const INSET = 12;

export function Equations({ figure, plot }: { figure: Schemas['Figure']; plot: Plot }) {
  const [level, side] = figure.corner.split('_');
  const first = level === 'top' ? plot.top + INSET + 8 : plot.bottom - INSET - LINE * (figure.equations.length - 1);
  return (
    <g className="graph-equations">
      {figure.equations.map(({ text, look }, i) => (
        <RichLabel
          key={i}
          text={text}
          x={side === 'right' ? plot.right - INSET : plot.left + INSET}
          y={first + LINE * i}
          anchor={side === 'right' ? 'end' : 'start'}
          colour={look === null || look === undefined ? undefined : colourOf(look)}
        />
      ))}
    </g>
  );
}
