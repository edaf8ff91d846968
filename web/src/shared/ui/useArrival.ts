// Where somebody arrives: at the top of the page, with the focus in it, so that the next Tab is the first thing to do there.
import { useLayoutEffect, useState } from 'react';
import { useFocusKept } from './useFocusKept';

/** The ref of the main part of a page, which may be there later than the rest; `place` is another where another page begins. */
export function useArrival(place: string): (main: HTMLElement | null) => void {
  const [main, setMain] = useState<HTMLElement | null>(null);
  // before what the page does itself, such as going to a cell
  useLayoutEffect(() => {
    if (!main) return;
    window.scrollTo(0, 0);
    // what asks for the focus as it is drawn has it already
    if (!main.contains(document.activeElement)) main.focus({ preventScroll: true });
  }, [main, place]);
  useFocusKept(main);
  return setMain;
}
