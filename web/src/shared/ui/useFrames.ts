// Drawing that follows the clock, frame by frame, for as long as something moves.
import { useEffect, useRef } from 'react';

/** `draw` is called in every frame until it says that nothing moves any more; anew whenever `what` is another. */
export function useFrames(what: string, draw: () => boolean): void {
  const newest = useRef(draw);
  useEffect(() => {
    newest.current = draw;
  });
  useEffect(() => {
    let frame = 0;
    const next = () => {
      if (newest.current()) frame = requestAnimationFrame(next);
    };
    next();
    return () => cancelAnimationFrame(frame);
  }, [what]);
}
