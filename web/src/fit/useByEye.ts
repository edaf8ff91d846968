// Drawing a line by eye: which of the three is being drawn, where it is now, and what the server says of it meanwhile.
import { useState } from 'react';
import { type Schemas, client, get } from '@/shared/api/client';
import { placeFit } from '@/shared/book/choices';
import { useBook, useBookStore } from '@/shared/book/context';
import type { EyeLineProps, Line } from '@/shared/graph/EyeLine';
import { useLatest } from '@/shared/ui/useLatest';

export type EyeKind = 'by_eye' | 'steepest_by_eye' | 'shallowest_by_eye';

export interface ByEye {
  drawing: EyeKind | null;
  line: Line | null;
  preview: Schemas['ByEyePreview'] | undefined;
  draw: (kind: EyeKind | null) => void;
  /** Put the line somewhere; once done it is kept. */
  move: (line: Line, done: boolean) => void;
  graph: (EyeLineProps & { residuals: ReadonlyMap<string, number> }) | undefined;
}

/** A level line through the middle of what is shown: where to begin, and no hint of where to end. */
function level(figure: Schemas['Figure']): Line {
  return { gradient: 0, intercept: (figure.y_axis.low + figure.y_axis.high) / 2 };
}

export function useByEye(fit: Schemas['Fit'] | undefined, figure: Schemas['Figure'] | null): ByEye {
  const { state, run } = useBook(({ state, run }) => ({ state, run }));
  const store = useBookStore();
  const [drawing, setDrawing] = useState<EyeKind | null>(null);
  const [draft, setDraft] = useState<Line | null>(null);
  const kept = fit && drawing ? (fit[drawing] ?? null) : null;
  const line = drawing && figure ? (draft ?? kept ?? level(figure)) : null;
  const preview = useLatest(line && fit ? { fit: fit.id, run, ...line } : null, (query) =>
    get(client.GET('/api/books/{book_id}/by-eye', { params: { path: { book_id: state.id }, query } })),
  );
  const move = (next: Line, done: boolean) => {
    setDraft(done ? null : next);
    if (done && fit && drawing) store.edit(placeFit(fit, { [drawing]: next }));
  };
  return {
    drawing,
    line,
    preview,
    draw: (kind) => {
      setDraft(null);
      setDrawing(kind);
    },
    move,
    graph: line ? { line, onMove: move, residuals: new Map(preview?.residuals.map((r) => [r.key, r.residual])) } : undefined,
  };
}
