// The exponent that is expected of a power, to be compared with the fitted one.
import { useState } from 'react';
import type { Schemas } from '@/shared/api/client';
import { Labelled } from '@/shared/ui/Labelled';
import { Exact } from '@/shared/ui/Exact';

export function Expected({ fit, onPlace }: { fit: Schemas['Fit']; onPlace: (part: Partial<Schemas['Fit']>) => void }) {
  const [text, setText] = useState(fit.expected);
  return (
    <form
      className="fit-expected"
      onSubmit={(e) => {
        e.preventDefault();
        onPlace({ expected: text.trim() });
      }}
    >
      <Labelled words="exponent expected">
        <Exact
          size="small"
          className="field-tiny"
          value={text}
          maxLength={20}
          placeholder="3/2"
          onChange={(e) => setText(e.target.value)}
          onBlur={() => text.trim() !== fit.expected && onPlace({ expected: text.trim() })}
        />
      </Labelled>
    </form>
  );
}
