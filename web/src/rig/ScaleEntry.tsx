// Where one writes what one reads on a scale: it goes into the table, and how scales are read is noted for the class.
import { type ReactNode, useState } from 'react';
import type { Schemas } from '@/shared/api/client';
import { Typeset } from '@/shared/ui/Typeset';
import { LETTER_BY_LETTER } from '@/shared/ui/Exact';

interface Props {
  face: Schemas['Face'];
  target: { symbol: string; place: string } | null;
  onRead: (text: string) => void;
  children: ReactNode;
}

export function ScaleEntry({ face, target, onRead, children }: Props) {
  const [text, setText] = useState('');
  const keep = () => {
    if (!text.trim()) return;
    onRead(text.trim());
    setText('');
  };
  return (
    <div className="face scale-face" role="group" aria-label={face.name}>
      <span className="face-name">
        {face.name}, in {face.unit}
      </span>
      {children}
      {target && (
        <form
          className="scale-entry"
          onSubmit={(e) => {
            e.preventDefault();
            keep();
          }}
        >
          <label>
            You read{' '}
            <input
              {...LETTER_BY_LETTER}
              className="mono"
              value={text}
              maxLength={20}
              inputMode="decimal"
              autoComplete="off"
              onChange={(e) => setText(e.target.value)}
            />
          </label>
          <button type="submit" className="face-write" disabled={!text.trim()}>
            <span>Write down</span>
            <span className="quiet">
              <Typeset text={target.symbol} />, {target.place}
            </span>
          </button>
        </form>
      )}
    </div>
  );
}
