// Notes pinned to a graph: words with a pointer, moved by dragging or with the arrow keys.
import { type KeyboardEvent, type PointerEvent, useRef, useState } from 'react';
import type { Schemas } from '@/shared/api/client';
import look from '@look';
import type { Plot } from './plot';

type Note = Schemas['FigureNote'];
/** By so many shares of the plot to the right, and up. */
export type MoveNote = (id: string, right: number, up: number) => void;

const { letters: WIDEST, line: LINE, size: SIZE, middle: MIDDLE, beside: BESIDE, bracket: BRACKET, peak: PEAK } = look.note;
const STEP = 0.01;

/** Words in lines of a readable length. */
function broken(text: string): string[] {
  const lines: string[] = [];
  for (const word of text.split(/\s+/)) {
    const last = lines.at(-1);
    if (last !== undefined && last.length + 1 + word.length <= WIDEST) lines[lines.length - 1] = `${last} ${word}`;
    else lines.push(word);
  }
  return lines;
}

export function Notes({ notes, plot, onMove }: { notes: readonly Note[]; plot: Plot; onMove: MoveNote | undefined }) {
  return (
    <g className="graph-notes">
      {notes.map((note) => (
        <PinnedNote key={note.id} note={note} plot={plot} onMove={onMove} />
      ))}
    </g>
  );
}

function PinnedNote({ note, plot, onMove }: { note: Note; plot: Plot; onMove: MoveNote | undefined }) {
  // where it has been dragged to stands until the server has drawn it there
  const [moved, setMoved] = useState<{ right: number; up: number } | null>(null);
  const [drawn, setDrawn] = useState(note);
  if (drawn !== note) {
    setDrawn(note);
    setMoved(null);
  }
  const held = useRef<{ x: number; y: number } | null>(null);
  const { right, up } = moved ?? note;
  const [width, height] = [plot.right - plot.left, plot.bottom - plot.top];
  const lines = broken(note.text);
  const to = note.x_to ?? note.x;
  const [x, y] = [(plot.x(note.x) + plot.x(to)) / 2, plot.y(note.y)];
  const [left, top] = [x + right * width, y - up * height];
  const middle = top + ((lines.length - 1) * LINE) / 2;
  const anchor = right < 0 ? 'end' : 'start';
  const place = (e: PointerEvent<SVGGElement>) => {
    const from = held.current;
    return from ? { right: note.right + (e.clientX - from.x) / width, up: note.up - (e.clientY - from.y) / height } : null;
  };
  const press = (e: KeyboardEvent) => {
    const step = { ArrowLeft: [-STEP, 0], ArrowRight: [STEP, 0], ArrowUp: [0, STEP], ArrowDown: [0, -STEP] }[e.key];
    if (!step || !onMove) return;
    e.preventDefault();
    e.stopPropagation();
    onMove(note.id, step[0] ?? 0, step[1] ?? 0);
  };
  return (
    <g
      className="graph-note"
      tabIndex={onMove ? 0 : undefined}
      role={onMove ? 'button' : undefined}
      aria-label={onMove ? `Note: ${note.text}. Move it with the arrow keys.` : undefined}
      onKeyDown={press}
      onPointerDown={(e) => {
        if (!onMove) return;
        held.current = { x: e.clientX, y: e.clientY };
        e.currentTarget.setPointerCapture(e.pointerId);
      }}
      onPointerMove={(e) => {
        const next = place(e);
        if (next) setMoved(next);
      }}
      onPointerUp={(e) => {
        const next = place(e);
        held.current = null;
        if (next && moved) onMove?.(note.id, next.right - note.right, next.up - note.up);
      }}
    >
      {note.x_to !== null && <path className="graph-note-stretch" d={`M${plot.x(note.x)} ${y - BRACKET}v${BRACKET - PEAK}H${plot.x(to)}v${PEAK - BRACKET}`} />}
      <line className="graph-note-pointer" x1={right < 0 ? left + BESIDE : left - BESIDE} y1={middle - MIDDLE} x2={x} y2={note.x_to !== null ? y - PEAK : y} />
      <text x={left} y={top} textAnchor={anchor} fontSize={SIZE}>
        {lines.map((line, i) => (
          <tspan key={i} x={left} dy={i ? LINE : 0}>
            {line}
          </tspan>
        ))}
      </text>
    </g>
  );
}
