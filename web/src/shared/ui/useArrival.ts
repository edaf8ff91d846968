// Where somebody arrives: at the top of the page, with the focus in it, so that the next Tab is the first thing to do there.
import { useLayoutEffect, useRef } from 'react';

/** For the main part of a page; `place` is another where another page begins. */
export function useArrival(place: string) {
  const main = useRef<HTMLElement>(null);
  // before what the page does itself, such as going to a cell
  useLayoutEffect(() => {
    window.scrollTo(0, 0);
    // what asks for the focus as it is drawn has it already
    if (!main.current?.contains(document.activeElement)) main.current?.focus({ preventScroll: true });
  }, [place]);
  return main;
}
