import { Fragment } from 'react';
import { symbolsIn } from './symbolsIn';

/** A sentence in which symbols stand as they do everywhere: θ with its r lowered, never θ_r. One thing in a row of several. */
export function Typeset({ text }: { text: string }) {
  const pieces = symbolsIn(text);
  if (pieces.every((piece) => !piece.lowered)) return text;
  return (
    <span>
      {pieces.map((piece, i) => (
        <Fragment key={i}>
          {piece.text}
          {piece.lowered && <sub>{piece.lowered}</sub>}
        </Fragment>
      ))}
    </span>
  );
}
