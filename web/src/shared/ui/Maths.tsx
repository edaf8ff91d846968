// Typeset mathematics. The typesetter is loaded when the first formula is shown; until then its source is read.
import { useEffect, useRef } from 'react';

const typesetter = () => Promise.all([import('katex'), import('katex/dist/katex.min.css')]).then(([m]) => m.default);

export function Maths({ tex, block = false }: { tex: string; block?: boolean }) {
  const place = useRef<HTMLSpanElement>(null);
  useEffect(() => {
    let gone = false;
    void typesetter().then((katex) => {
      if (!gone && place.current)
        katex.render(block ? `\\displaystyle ${tex}` : tex, place.current, {
          displayMode: false,
          throwOnError: false,
          output: 'htmlAndMathml',
        });
    });
    return () => {
      gone = true;
    };
  }, [block, tex]);
  return <span ref={place} className={block ? 'maths-block' : undefined} style={block ? { display: 'block' } : undefined} />;
}
