// The focus is not lost with what had it: where that goes from the page, the place that it was in takes it.
import { useEffect } from 'react';

export function useFocusKept(kept: HTMLElement | null): void {
  useEffect(() => {
    if (!kept) return undefined;
    let last: EventTarget | null = kept.contains(document.activeElement) ? document.activeElement : null;
    const note = (e: FocusEvent) => (last = e.target instanceof Node && kept.contains(e.target) ? e.target : null);
    const changed = new MutationObserver(() => {
      // who has pressed beside everything has left by themselves: what they left is still there
      if (document.activeElement === document.body && last instanceof Node && !last.isConnected) kept.focus({ preventScroll: true });
    });
    document.addEventListener('focusin', note);
    changed.observe(kept, { childList: true, subtree: true });
    return () => {
      document.removeEventListener('focusin', note);
      changed.disconnect();
    };
  }, [kept]);
}
