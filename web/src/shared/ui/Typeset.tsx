import { Fragment } from 'react';
import { symbolsIn } from './symbolsIn';

/** A sentence in which symbols stand as they do everywhere: θ with its r lowered, never θ_r. */
export function Typeset({ text }: { text: string }) {
  return symbolsIn(text).map((piece, i) => (
    <Fragment key={i}>
      {piece.text}
      {piece.lowered && <sub>{piece.lowered}</sub>}
    </Fragment>
  ));
}
