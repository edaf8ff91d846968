// The small pictures in the trail. Each is drawn from the same analysis as its stage, so a changed reading moves them all.
import type { ReactNode } from 'react';
import type { Figure, Schemas, StageName } from '@/shared/api/client';
import { useBook } from '@/shared/book/context';
import { colourOf } from '@/shared/graph/marker';
import { shareOf } from '@/shared/graph/plot';

const W = 84;
const H = 36;
/** More would be a blot at this size. */
const MOST_DOTS = 40;

export function Miniature({ stage }: { stage: StageName }) {
  return (
    <svg className="trail-picture" viewBox={`0 0 ${W} ${H}`} aria-hidden="true" preserveAspectRatio="xMidYMid meet">
      <Picture stage={stage} />
    </svg>
  );
}

function Picture({ stage }: { stage: StageName }): ReactNode {
  const { state, analysis } = useBook(({ state, analysis }) => ({ state, analysis }));
  const fit = analysis.fits[0];
  const straight = analysis.graphs.find((g) => g.graph === fit?.graph)?.figure ?? null;
  switch (stage) {
    case 'ask':
      return <Lines lengths={state.document.texts?.expectation ? [64, 52, 30] : []} />;
    case 'read':
      return <Rows />;
    case 'average':
      return <Strips />;
    case 'look': {
      const first = analysis.graphs[0]?.figure;
      return first ? <Scatter figure={first} /> : <Axes />;
    }
    case 'straighten': {
      const signs = analysis.patterns.find((p) => p.graph === fit?.graph)?.signs ?? '';
      return signs ? <Signs signs={signs} /> : <Axes />;
    }
    case 'fit':
      return straight ? <Scatter figure={straight} line /> : <Axes />;
    case 'find': {
      // the first finding that stands beside something; else the first with its bar, as long as a third of the station
      const line = analysis.findings.find((f) => f.number_line)?.number_line;
      const alone = analysis.findings.find((f) => f.value?.u)?.value;
      if (!line && alone?.u)
        return <Bars marks={[{ name: '', value: alone.value, u: alone.u }]} low={alone.value - 3 * alone.u} high={alone.value + 3 * alone.u} />;
      return line ? (
        <Bars marks={line.marks} low={line.axis_low} high={line.axis_high} />
      ) : (
        <line x1="8" x2="76" y1="18" y2="18" stroke="var(--rule)" strokeWidth="2" />
      );
    }
    case 'pool':
      return (
        <g fill={state.pool_open ? 'var(--plum)' : 'none'} stroke={state.pool_open ? 'none' : 'var(--edge)'}>
          {[18, 30, 37, 44, 49, 62].map((x, i) => (
            <circle key={x} cx={x} cy={10 + (i % 3) * 8} r="3" />
          ))}
        </g>
      );
    case 'report': {
      const written = ['expectation', 'method', 'discussion', 'conclusion'].map((s) => Boolean(state.document.texts?.[s]));
      return (
        <g>
          <rect x="28" y="1" width="28" height="34" fill="var(--sheet)" stroke="var(--edge)" />
          {written.map((done, i) => (
            <rect key={i} x="32" y={5 + i * 7.5} width="20" height="4.500" fill={done ? 'var(--plum)' : 'var(--rule)'} />
          ))}
        </g>
      );
    }
  }
}

function Lines({ lengths }: { lengths: number[] }) {
  return lengths.length ? (
    <g stroke="var(--plum)" strokeWidth="2">
      {lengths.map((l, i) => (
        <line key={i} x1="10" x2={10 + l} y1={9 + i * 9} y2={9 + i * 9} />
      ))}
    </g>
  ) : (
    <text x="42" y="27" textAnchor="middle" fontSize="26" fill="var(--edge)">
      ?
    </text>
  );
}

function Rows() {
  const { analysis } = useBook(({ analysis }) => ({ analysis }));
  if (analysis.runs[0]?.logged.length) return <Logged />;
  const columns = analysis.runs[0]?.columns.filter((c) => c.cells.some((cell) => cell.repeats.length)) ?? [];
  const rows = columns[0]?.cells.length ?? 0;
  const shown = Math.min(rows, 9);
  const marks: ReactNode[] = [];
  for (let r = 0; r < shown; r++) {
    let x = 12;
    for (const column of columns) {
      const count = Math.max(1, column.cells[r]?.repeats.length ?? 1);
      for (let k = 0; k < count; k++) {
        const filled = column.cells[r]?.repeats[k] !== null && column.cells[r]?.repeats[k] !== undefined;
        marks.push(<rect key={`${r}-${column.quantity}-${k}`} x={x} y={2 + r * 3.6} width={11} height={2} fill={filled ? 'var(--plum)' : 'var(--rule)'} />);
        x += 14;
      }
      x += 4;
    }
  }
  return <g>{marks}</g>;
}

/** More rows than can be drawn. */
function Logged() {
  return <path d={Array.from({ length: 16 }, (_, i) => `M14 ${2.5 + i * 2}H70`).join('')} stroke="var(--plum)" strokeWidth="0.8" />;
}

function Strips() {
  const { analysis } = useBook(({ analysis }) => ({ analysis }));
  if (analysis.runs[0]?.logged.length) return <Logged />;
  const columns = analysis.runs[0]?.columns ?? [];
  const column = columns.find((c) => c.cells.some((cell) => cell.repeats.length > 1)) ?? columns.find((c, i) => i > 0 && c.cells.some((cell) => cell.u));
  const cells = (column?.cells ?? []).filter((c) => c.value !== null && c.value !== undefined).slice(0, 9);
  const widest = Math.max(1e-300, ...cells.map((c) => c.u ?? 0));
  return (
    <g stroke="var(--plum)" strokeWidth="1.6">
      {cells.map((c, i) => {
        const half = ((c.u ?? 0) / widest) * 30;
        const y = 4 + i * 3.7;
        return <path key={i} d={`M${42 - half} ${y}H${42 + half}M42 ${y - 1.4}V${y + 1.4}`} />;
      })}
    </g>
  );
}

function Axes() {
  return <path d="M14 4V30H74" fill="none" stroke="var(--edge)" strokeWidth="1.5" />;
}

function Scatter({ figure, line = false }: { figure: Figure; line?: boolean }) {
  const x = (v: number) => 16 + shareOf(figure.x_axis, v) * 58;
  const y = (v: number) => 30 - shareOf(figure.y_axis, v) * 27;
  return (
    <>
      <Axes />
      {line &&
        figure.lines
          .filter((l) => l.kind === 'fit')
          .map((l, i) => (
            <polyline key={i} points={l.x.map((v, j) => `${x(v)},${y(l.y[j] ?? 0)}`).join(' ')} fill="none" stroke="var(--plum)" strokeWidth="1.4" />
          ))}
      {figure.series.flatMap((s) =>
        s.points
          .filter((_, i) => i % Math.ceil(s.points.length / MOST_DOTS) === 0)
          .map((p) => <circle key={`${s.name}${p.key}`} cx={x(p.x)} cy={y(p.y)} r="1.9" fill={p.set_aside ? 'var(--edge)' : colourOf(s.look)} />),
      )}
    </>
  );
}

function Signs({ signs }: { signs: string }) {
  const shown = [...signs].filter((_, i) => i % Math.ceil(signs.length / MOST_DOTS) === 0);
  const step = Math.min(9, 74 / shown.length);
  const start = 42 - ((shown.length - 1) * step) / 2;
  return (
    <>
      <line x1="6" x2="78" y1="18" y2="18" stroke="var(--edge)" />
      {shown.map((s, i) => (
        <circle key={i} cx={start + i * step} cy={s === '+' ? 11 : s === '0' ? 18 : 25} r="2.4" fill="var(--plum)" />
      ))}
    </>
  );
}

function Bars({ marks, low, high }: { marks: Schemas['LineMark'][]; low: number; high: number }) {
  const x = (v: number) => 8 + ((v - low) / (high - low)) * 68;
  return (
    <>
      {marks.slice(0, 2).map(({ name, value: v, u }, i) => (
        <g key={name} stroke={i ? 'var(--quiet)' : 'var(--plum)'} fill={i ? 'var(--quiet)' : 'var(--plum)'} strokeWidth="1.6">
          <line x1={x(v - u)} x2={x(v + u)} y1={12 + i * 13} y2={12 + i * 13} />
          <circle cx={x(v)} cy={12 + i * 13} r="2.6" />
        </g>
      ))}
    </>
  );
}
