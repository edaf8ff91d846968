// Typeset mathematics. The typesetter is loaded when the first formula is shown; until then its source is read.
import { useEffect, useRef } from 'react';

// the first table can be typed into before its heading is typeset
let idle: Promise<void> | null = null;
const whenIdle = () =>
  (idle ??= new Promise((then) => {
    if ('requestIdleCallback' in window) window.requestIdleCallback(() => then(), { timeout: 2000 });
    else setTimeout(then, 300);
  }));
const typesetter = () =>
  whenIdle()
    .then(() => Promise.all([import('katex'), import('katex/dist/katex.min.css')]))
    .then(([m]) => m.default);

export function Maths({ tex, block = false }: { tex: string; block?: boolean }) {
  const place = useRef<HTMLSpanElement>(null);
  useEffect(() => {
    let gone = false;
    typesetter()
      .then((katex) => {
        const element = place.current;
        if (gone || !element) return;
        element.classList.remove('tight');
        katex.render(block ? `\\displaystyle ${tex}` : tex, element, {
          displayMode: false,
          throwOnError: false,
          output: 'htmlAndMathml',
        });
        // on a phone a bracket that cannot be broken would be cut at the edge
        element.classList.toggle('tight', block && element.scrollWidth > element.clientWidth);
      })
      // without a network it may be missing; the page goes on without
      .catch(() => undefined);
    return () => {
      gone = true;
    };
  }, [block, tex]);
  return <span ref={place} className={block ? 'maths maths-block' : 'maths'} />;
}
