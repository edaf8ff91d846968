// The motion that a graph over time is of, beside it: something on a rail or turning about an axle, with what is fitted to it.
import { Button, Select } from 'antd';
import { useRef, useState } from 'react';
import type { Figure } from '@/shared/api/client';
import { useFrames } from '@/shared/ui/useFrames';
import { shareOf } from './plot';
import { colourOf } from './marker';
import { type Path, SPEEDS, placeOn, radiansIn, saySpeed, spanOf, speedFor } from './motion';

const WIDTH = 150;
const EDGE = 14;
const RAIL = 62;

interface Props {
  figure: Figure;
  paths: readonly Path[];
  /** Seconds in the unit of x; the unit of y. */
  seconds: number;
  unit: string;
  /** What y is called. */
  name: string;
  height: number;
  at: number;
  onAt: (at: number) => void;
}

/** Two of one look are told apart by how they are drawn: a model is a ring. */
function Body({ path, x, y }: { path: Path; x: number; y: number }) {
  return path.look === null ? (
    <circle className="motion-model" cx={x} cy={y} r={10} />
  ) : (
    <circle className="motion-body" cx={x} cy={y} r={7} fill={colourOf(path.look)} />
  );
}

function OnRail({ figure, paths, height, at }: Pick<Props, 'figure' | 'paths' | 'height' | 'at'>) {
  const axis = figure.y_axis;
  const place = (value: number) => height - EDGE - shareOf(axis, value) * (height - 2 * EDGE);
  return (
    <>
      <line className="motion-rail" x1={RAIL} x2={RAIL} y1={EDGE} y2={height - EDGE} />
      {axis.ticks.map((tick) => (
        <g key={tick.value}>
          <line className="motion-tick" x1={RAIL - 6} x2={RAIL} y1={place(tick.value)} y2={place(tick.value)} />
          {tick.text && (
            <text className="motion-text" x={RAIL - 9} y={place(tick.value) + 4} textAnchor="end">
              {tick.text}
            </text>
          )}
        </g>
      ))}
      {paths.map((path, i) => {
        const y = placeOn(path, at);
        return y === null ? null : <Body key={i} path={path} x={RAIL + 30} y={place(y)} />;
      })}
    </>
  );
}

function AboutAxle({ paths, height, at, radians }: Pick<Props, 'paths' | 'height' | 'at'> & { radians: number }) {
  const [x, y] = [WIDTH / 2, Math.min(height / 2, WIDTH / 2 + EDGE)];
  const reach = WIDTH / 2 - EDGE;
  return (
    <>
      <circle className="motion-disc" cx={x} cy={y} r={reach} />
      <circle className="motion-rail" cx={x} cy={y} r={2} />
      {paths.map((path, i) => {
        const turned = placeOn(path, at);
        if (turned === null) return null;
        const angle = turned * radians;
        return <Body key={i} path={path} x={x + reach * Math.cos(angle)} y={y - reach * Math.sin(angle)} />;
      })}
    </>
  );
}

export function Motion({ figure, paths, seconds, unit, name, height, at, onAt }: Props) {
  const [from, to] = spanOf(paths);
  const [speed, setSpeed] = useState(() => speedFor((to - from) * seconds));
  const [playing, setPlaying] = useState(true);
  const before = useRef(0);
  useFrames(`${playing} ${speed}`, () => {
    const now = performance.now();
    const passed = before.current ? now - before.current : 0;
    before.current = playing ? now : 0;
    if (!playing) return false;
    const next = Math.min(at + ((passed / 1000) * speed) / seconds, to);
    onAt(next);
    if (next >= to) setPlaying(false);
    return next < to;
  });
  const radians = radiansIn(unit);
  const model = paths.some((p) => p.look === null);
  return (
    <section className="motion" aria-label={`Motion of ${name}`}>
      <svg viewBox={`0 0 ${WIDTH} ${height}`} width={WIDTH} height={height} role="img" aria-label={`${name} as a motion`}>
        {radians === null ? (
          <OnRail figure={figure} paths={paths} height={height} at={at} />
        ) : (
          <AboutAxle paths={paths} height={height} at={at} radians={radians} />
        )}
      </svg>
      <Button
        size="small"
        onClick={() => {
          if (!playing && at >= to) onAt(from);
          setPlaying(!playing);
        }}
      >
        {playing ? 'Hold' : 'Play'}
      </Button>
      <input
        type="range"
        aria-label="Time"
        min={from}
        max={to}
        step={(to - from) / 500}
        value={at}
        onChange={(e) => {
          setPlaying(false);
          onAt(Number(e.target.value));
        }}
      />
      <Select<number>
        size="small"
        aria-label="How quickly it is played"
        value={speed}
        options={SPEEDS.map((value) => ({ value, label: saySpeed(value) }))}
        popupMatchSelectWidth={false}
        onChange={setSpeed}
      />
      {model && <p className="quiet">The ring is what is fitted.</p>}
    </section>
  );
}
