// The focus is not lost with what had it: where that goes from the page, the place that it was in takes it. Of a place within another, the inner.
import { useEffect } from 'react';

const KEEPS = 'data-keeps-focus';

export function useFocusKept(kept: HTMLElement | null): void {
  useEffect(() => {
    if (!kept) return undefined;
    kept.setAttribute(KEEPS, '');
    let last: Element | null = null;
    const note = (target: EventTarget | null) => {
      last = target instanceof Element && target.closest(`[${KEEPS}]`) === kept ? target : null;
    };
    note(document.activeElement);
    const heard = (e: FocusEvent) => note(e.target);
    const changed = new MutationObserver(() => {
      // who has pressed beside everything has left by themselves: what they left is still there
      if (document.activeElement === document.body && last && !last.isConnected) kept.focus({ preventScroll: true });
    });
    document.addEventListener('focusin', heard);
    changed.observe(kept, { childList: true, subtree: true });
    return () => {
      document.removeEventListener('focusin', heard);
      changed.disconnect();
    };
  }, [kept]);
}
