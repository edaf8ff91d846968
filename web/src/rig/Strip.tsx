// What a logger writes, drawn as it comes. The curve of the next seconds is drawn once, and uncovered as time passes.
import { useRef } from 'react';
import type { Schemas } from '@/shared/api/client';
import { useFrames } from '@/shared/ui/useFrames';

const WIDTH = 600;
const HEIGHT = 96;
const LEFT = 44;

interface Props {
  record: Schemas['RecordLook'];
  /** Seconds since the view was made that the record is of. */
  elapsed: () => number;
}

export function Strip({ record, elapsed }: Props) {
  const cover = useRef<SVGRectElement>(null);
  const clock = useRef<SVGTextElement>(null);
  const { drawn, every, running, seconds } = record;
  const length = Math.max(5, Math.ceil(((drawn.length - 1) * every) / 5) * 5);
  const low = Math.min(...drawn);
  const high = Math.max(...drawn, low + 1e-9);
  const x = (time: number) => LEFT + (time / length) * (WIDTH - LEFT);
  const y = (value: number) => HEIGHT - 18 - ((value - low) / (high - low)) * (HEIGHT - 26);

  useFrames(`${running} ${seconds} ${length}`, () => {
    const now = Math.min(length, seconds + (running ? elapsed() : 0));
    cover.current?.setAttribute('width', `${(now / length) * (WIDTH - LEFT)}`);
    if (clock.current) clock.current.textContent = `${now.toFixed(1)} s`;
    return running;
  });

  return (
    <svg
      className="rig-strip"
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      role="img"
      aria-label={`${record.name} over time, ${running ? 'being recorded' : `${record.rows} rows`}`}
    >
      <clipPath id="strip-uncovered">
        <rect ref={cover} x={LEFT} y="0" height={HEIGHT} width="0" />
      </clipPath>
      <path className="strip-axis" d={`M${LEFT} 4V${HEIGHT - 14}H${WIDTH}`} />
      {Array.from({ length: length + 1 }, (_, s) => (
        <path key={s} className="strip-axis" d={`M${x(s)} ${HEIGHT - 14}v${s % 5 ? 3 : 6}`} />
      ))}
      <g clipPath="url(#strip-uncovered)">
        {record.marks.map((at) => (
          <path key={at} className="strip-mark" d={`M${x(at)} 4V${HEIGHT - 14}`} />
        ))}
        <path className="strip-curve" d={drawn.map((value, i) => `${i ? 'L' : 'M'}${x(i * every).toFixed(1)} ${y(value).toFixed(1)}`).join('')} />
      </g>
      <text className="scene-label" x={LEFT - 6} y="14" textAnchor="end">
        {record.unit}
      </text>
      <text className="scene-label" ref={clock} x={WIDTH - 4} y={HEIGHT - 20} textAnchor="end" />
    </svg>
  );
}
