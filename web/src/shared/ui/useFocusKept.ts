// The focus is not lost with what had it: where that goes from the page, the place that it was in takes it. Of a place within another, the inner.
import { useEffect } from 'react';

const KEEPS = 'data-keeps-focus';

export function useFocusKept(kept: HTMLElement | null): void {
  useEffect(() => {
    if (!kept) return undefined;
    kept.setAttribute(KEEPS, '');
    let last: Element | null = null;
    let onItsWay = false;
    let late: ReturnType<typeof setTimeout> | undefined;
    const note = (target: EventTarget | null) => {
      onItsWay = false;
      last = target instanceof Element && target.closest(`[${KEEPS}]`) === kept ? target : null;
    };
    note(document.activeElement);
    const heard = (e: FocusEvent) => note(e.target);
    // a field that is written when it is left may be gone before the focus is where it was sent: then nobody has it for a moment
    const left = (e: FocusEvent) => {
      onItsWay = e.relatedTarget !== null;
    };
    const take = () => {
      // who has pressed beside everything has left by themselves: what they left is still there
      if (document.activeElement !== document.body || !last || last.isConnected) return;
      if (!onItsWay) kept.focus({ preventScroll: true });
      else {
        onItsWay = false;
        late = setTimeout(take);
      }
    };
    const changed = new MutationObserver(take);
    document.addEventListener('focusin', heard);
    document.addEventListener('focusout', left, true);
    changed.observe(kept, { childList: true, subtree: true });
    return () => {
      document.removeEventListener('focusin', heard);
      document.removeEventListener('focusout', left, true);
      clearTimeout(late);
      changed.disconnect();
    };
  }, [kept]);
}
