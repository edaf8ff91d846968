// The focus stays in a graph when the point that had it is drawn no more: zoomed away, or hidden by somebody else meanwhile.
import { type RefObject, useLayoutEffect, useRef } from 'react';

/** Handlers of the graph; `points` is what is drawn. */
export function useKeptFocus(graph: RefObject<SVGSVGElement | null>, points: unknown) {
  const within = useRef(false);
  useLayoutEffect(() => {
    const element = graph.current;
    // what is taken out of the page loses the focus to nobody, and says nothing of it
    if (!element || !within.current || document.activeElement !== document.body) return;
    (element.querySelector<SVGGElement>('[data-point][tabindex="0"]') ?? element).focus({ preventScroll: true });
  }, [graph, points]);
  return {
    onFocus: () => {
      within.current = true;
    },
    onBlur: () => {
      within.current = false;
    },
  };
}
