// Equations of what is fitted, in the corner of the plot where least is drawn.
import type { Schemas } from '@/shared/api/client';
import look from '@look';
import { RichLabel } from './Axes';
import { colourOf } from './marker';
import type { Plot } from './plot';

const { line: LINE, inset: INSET, down: DOWN, size: SIZE } = look.equation;

export function Equations({ figure, plot }: { figure: Schemas['Figure']; plot: Plot }) {
  const [level, side] = figure.corner.split('_');
  const first = level === 'top' ? plot.top + INSET + DOWN : plot.bottom - INSET - LINE * (figure.equations.length - 1);
  return (
    <g className="graph-equations">
      {figure.equations.map(({ text, look: of }, i) => (
        <RichLabel
          key={i}
          text={text}
          x={side === 'right' ? plot.right - INSET : plot.left + INSET}
          y={first + LINE * i}
          anchor={side === 'right' ? 'end' : 'start'}
          colour={of === null || of === undefined ? 'var(--plum)' : colourOf(of)}
          size={SIZE}
        />
      ))}
    </g>
  );
}
