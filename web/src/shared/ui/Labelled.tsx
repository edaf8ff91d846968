// A field with its words before it.
import type { ReactNode } from 'react';
import { Typeset } from './Typeset';

/** `group`: several controls stand under the words, so that they label none of them alone. */
export function Labelled({ words, group = false, children }: { words: string; group?: boolean; children: ReactNode }) {
  const inner = (
    <>
      <span className="quiet">
        <Typeset text={words} />
      </span>
      {children}
    </>
  );
  return group ? <span className="row labelled">{inner}</span> : <label className="row labelled">{inner}</label>;
}
