// What is pointed at lights up wherever it is in sight: a repeat its tick, its point and its residual; a point its repeats.
// Elements say what they are by `data-light`: a setting, or a reading of it as setting:quantity:repeat; in the pool a bench, or a point of
// it as bench:setting. Nothing is drawn again for it.
import { useEffect } from 'react';

/** Whether something that is `lit` is pointed at with `at`: the same, or a reading and its own setting. */
export function goTogether(at: string, lit: string): boolean {
  return at === lit || at.startsWith(`${lit}:`) || lit.startsWith(`${at}:`);
}

function light(at: string): void {
  for (const element of document.querySelectorAll<HTMLElement>('[data-light]')) {
    const on = at !== '' && goTogether(at, element.dataset.light ?? '');
    if (on !== 'lit' in element.dataset) {
      if (on) element.dataset.lit = '';
      else delete element.dataset.lit;
    }
  }
}

export function useLights(): void {
  useEffect(() => {
    let now = '';
    const point = (e: Event) => {
      const target = e.target instanceof Element ? e.target.closest<HTMLElement | SVGElement>('[data-light]') : null;
      const at = target?.dataset.light ?? '';
      // who types in a cell goes on pointing at it while the mouse rests elsewhere
      if (at === now || (at === '' && e.type === 'pointerover' && document.activeElement?.matches('[data-light]'))) return;
      now = at;
      light(at);
    };
    const leave = (e: FocusEvent) => {
      if (e.relatedTarget !== null || now === '') return;
      now = '';
      light(now);
    };
    window.addEventListener('pointerover', point);
    window.addEventListener('focusin', point);
    window.addEventListener('focusout', leave);
    return () => {
      window.removeEventListener('pointerover', point);
      window.removeEventListener('focusin', point);
      window.removeEventListener('focusout', leave);
    };
  }, []);
}
