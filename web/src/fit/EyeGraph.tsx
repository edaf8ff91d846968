// The graph of a fit with a line drawn by eye on it. What is dragged lives here, so that nothing around the graph is drawn again meanwhile.
import { type ComponentProps, useMemo } from 'react';
import type { Schemas } from '@/shared/api/client';
import { usePins } from '@/shared/book/usePins';
import { PlayedGraph } from '@/shared/graph/PlayedGraph';
import { ByEyeTools } from './ByEyeTools';
import { useByEye } from './useByEye';

interface Props extends Omit<ComponentProps<typeof PlayedGraph>, 'eye'> {
  fit: Schemas['Fit'];
  /** The figure as it is kept, for a line to begin in. */
  kept: Schemas['Figure'];
  onPlace: ((part: Partial<Schemas['Fit']>) => void) | null;
}

export function EyeGraph({ fit, kept, onPlace, figure, of, ...graph }: Props) {
  const eye = useByEye(fit, kept);
  const pins = usePins();
  const drawing = eye.drawing !== null;
  // the same figure throughout the drag, or all its points would be drawn anew with every move
  const shown = useMemo(() => (drawing ? { ...figure, lines: figure.lines.filter((l) => l.kind !== 'by_eye') } : figure), [drawing, figure]);
  return (
    <>
      <PlayedGraph {...graph} of={of} figure={shown} eye={eye.graph} pins={pins} />
      {onPlace && fit.shape === 'line' && <ByEyeTools fit={fit} eye={eye} onPlace={onPlace} />}
    </>
  );
}
