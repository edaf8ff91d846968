// A field with its words before it.
import type { ReactNode } from 'react';

/** `group`: several controls stand under the words, so that they label none of them alone. */
export function Labelled({ words, group = false, children }: { words: string; group?: boolean; children: ReactNode }) {
  const inner = (
    <>
      <span className="quiet">{words}</span>
      {children}
    </>
  );
  return group ? <span className="row labelled">{inner}</span> : <label className="row labelled">{inner}</label>;
}
