// The expected curve, sketched on empty axes by a few places: pressed, dragged, or moved with the arrow keys.
import { Button } from 'antd';
import { type KeyboardEvent, type PointerEvent, useRef, useState } from 'react';
import type { Quantity, RichText } from '@/shared/api/client';
import { useBook, useBookStore } from '@/shared/book/context';
import { RichLabel } from '@/shared/graph/Axes';
import { useWidth } from '@/shared/graph/useWidth';
import { measuredIn } from '@/shared/book/quantities';

type Place = { x: number; y: number };

const LEFT = 40;
const BOTTOM = 36;
const TOP = 10;
const RIGHT = 12;
const HEIGHT = 260;
const STEP = 0.02;
const MOST = 24;

const within = (v: number) => Math.min(1, Math.max(0, Number(v.toFixed(3))));

export function Sketch() {
  const { state, analysis, waiting, quantities, symbolOf } = useBook(({ state, analysis, waiting, quantities, symbolOf }) => ({
    state,
    analysis,
    waiting,
    quantities,
    symbolOf,
  }));
  const store = useBookStore();
  const [box, width] = useWidth<HTMLDivElement>(560);
  const [moved, setMoved] = useState<Place[] | null>(null);
  const held = useRef<number | null>(null);
  const latest = waiting.map((w) => w.edit).findLast((e) => e.type === 'draw_sketch');
  const kept: Place[] = latest?.type === 'draw_sketch' ? latest.points : state.document.sketch;
  const points = moved ?? kept;
  const editable = state.can_edit;
  const nameAxis = (q: Quantity | undefined): RichText =>
    !q ? [] : q.name === q.symbol ? symbolOf(q.id) : [{ text: `${q.name}, `, style: 'plain' }, ...symbolOf(q.id)];
  const px = (p: Place) => LEFT + p.x * (width - LEFT - RIGHT);
  const py = (p: Place) => TOP + (1 - p.y) * (HEIGHT - TOP - BOTTOM);
  const keep = (next: Place[]) => {
    setMoved(null);
    store.edit({ type: 'draw_sketch', points: [...next].sort((a, b) => a.x - b.x) });
  };
  const at = (e: PointerEvent<SVGElement>): Place => {
    const frame = (e.currentTarget.ownerSVGElement ?? e.currentTarget).getBoundingClientRect();
    return {
      x: within((e.clientX - frame.left - LEFT) / (width - LEFT - RIGHT)),
      y: within(1 - (e.clientY - frame.top - TOP) / (HEIGHT - TOP - BOTTOM)),
    };
  };
  const press = (i: number, e: KeyboardEvent) => {
    const step = { ArrowLeft: [-STEP, 0], ArrowRight: [STEP, 0], ArrowUp: [0, STEP], ArrowDown: [0, -STEP] }[e.key];
    const p = points[i];
    if (!p) return;
    if (step) keep(points.map((o, j) => (j === i ? { x: within(o.x + (step[0] ?? 0)), y: within(o.y + (step[1] ?? 0)) } : o)));
    else if (e.key === 'Delete' || e.key === 'Backspace') keep(points.filter((_, j) => j !== i));
    else return;
    e.preventDefault();
  };
  const addByKey = () => {
    const last = points.at(-1);
    keep([...points, last ? { x: within(last.x + 0.15), y: last.y } : { x: 0.1, y: 0.1 }]);
  };
  const curve = moved === null ? analysis.sketch : null;
  const line = curve ? curve.x.map((x, i) => ({ x, y: curve.y[i] ?? 0 })) : [...points].sort((a, b) => a.x - b.x);
  const x = quantities.find((q) => q.kind === 'changed');
  const y = measuredIn(quantities)[0];
  return (
    <div ref={box} className="sketch">
      <svg width={width} height={HEIGHT} role="group" aria-label={`Sketch of what you expect: ${points.length} places`}>
        <rect
          className="sketch-paper"
          x={LEFT}
          y={TOP}
          width={width - LEFT - RIGHT}
          height={HEIGHT - TOP - BOTTOM}
          onPointerDown={(e) => {
            if (editable && points.length < MOST) keep([...points, at(e)]);
          }}
        />
        <path className="sketch-axes" d={`M${LEFT} ${TOP}V${HEIGHT - BOTTOM}H${width - RIGHT}`} />
        <polyline className="sketch-curve" points={line.map((p) => `${px(p)},${py(p)}`).join(' ')} />
        {points.map((p, i) => (
          <circle
            key={i}
            cx={px(p)}
            cy={py(p)}
            r={6}
            tabIndex={editable ? 0 : undefined}
            role={editable ? 'button' : undefined}
            aria-label={`Place ${i + 1} of the sketch. Move it with the arrow keys, Delete takes it away.`}
            onKeyDown={(e) => {
              if (editable) press(i, e);
            }}
            onPointerDown={(e) => {
              if (!editable) return;
              held.current = i;
              e.currentTarget.setPointerCapture(e.pointerId);
            }}
            onPointerMove={(e) => {
              if (held.current === i) setMoved(points.map((o, j) => (j === i ? at(e) : o)));
            }}
            onPointerUp={() => {
              if (held.current === i && moved) keep(moved);
              held.current = null;
            }}
          />
        ))}
        <RichLabel text={nameAxis(x)} x={width - RIGHT} y={HEIGHT - 12} anchor="end" />
        <g transform={`translate(16 ${HEIGHT / 2}) rotate(-90)`}>
          <RichLabel text={nameAxis(y)} x={0} y={0} anchor="middle" />
        </g>
      </svg>
      {editable && (
        <div className="row">
          <Button size="small" onClick={addByKey} disabled={points.length >= MOST}>
            Add a place
          </Button>
          {points.length > 0 && (
            <Button size="small" type="text" onClick={() => keep([])}>
              Start again
            </Button>
          )}
          <span className="quiet">Press on the axes where the curve should pass. It comes back faintly behind your points.</span>
        </div>
      )}
    </div>
  );
}
