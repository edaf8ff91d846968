// What was read off a fit last: the way from one axis to the curve and on to the other, and the tangent that touches it there.
import type { Schemas } from '@/shared/api/client';
import type { Plot } from './plot';

/** Half of a tangent's length, as a share of the width. */
const REACH = 0.16;

/** `straight`: neither axis is logarithmic, so that a tangent is a straight line. */
export function ReadMark({ read, plot, straight }: { read: Schemas['ReadValue']; plot: Plot; straight: boolean }) {
  const [x, y] = [plot.x(read.x), plot.y(read.y)];
  const way = read.direction === 'forward' ? `M${x} ${plot.bottom}V${y}H${plot.left}` : `M${plot.left} ${y}H${x}V${plot.bottom}`;
  const reach = REACH * (plot.xAt(plot.right) - plot.xAt(plot.left));
  return (
    <g aria-hidden="true">
      <path className="graph-read" d={way} />
      {read.tangent && straight && (
        <path
          className="graph-tangent"
          d={`M${plot.x(read.x - reach)} ${plot.y(read.y - reach * read.slope)}L${plot.x(read.x + reach)} ${plot.y(read.y + reach * read.slope)}`}
        />
      )}
      <circle className="graph-read-place" cx={x} cy={y} r={3.4} />
    </g>
  );
}
