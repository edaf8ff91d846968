// What is fitted, drawn or supposed, and the bands about it.
import type { Figure } from '@/shared/api/client';
import look from '@look';
import { colourOf, strokeOf } from './marker';
import type { Plot } from './plot';

export function Lines({ figure, plot }: { figure: Figure; plot: Plot }) {
  return (
    <>
      {figure.bands.map((band, i) => (
        <polygon
          key={i}
          className="graph-band"
          fillOpacity={look.band.opacity}
          points={[
            ...band.x.map((x, j) => `${plot.x(x)},${plot.y(band.high[j] ?? 0)}`),
            ...band.x.map((x, j) => `${plot.x(x)},${plot.y(band.low[j] ?? 0)}`).reverse(),
          ].join(' ')}
        />
      ))}
      {figure.lines.map((line, i) => (
        <polyline
          key={i}
          className={`graph-line ${line.kind}`}
          stroke={line.look === null || line.look === undefined ? `var(--${look.lines[line.kind].colour})` : colourOf(line.look)}
          strokeLinecap={look.lines[line.kind].dash ? 'round' : undefined}
          {...strokeOf(look.lines[line.kind])}
          points={line.x.map((x, j) => `${plot.x(x)},${plot.y(line.y[j] ?? 0)}`).join(' ')}
        />
      ))}
    </>
  );
}
