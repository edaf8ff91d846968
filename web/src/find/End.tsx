// One end of a stretch: a number, or nothing for no limit.
import { useState } from 'react';
import { useDecimalMark } from '@/shared/book/context';
import { writeShort } from '@/shared/book/decimalMark';
import { Labelled } from '@/shared/ui/Labelled';
import { readNumber } from '@/shared/ui/readNumber';
import { Exact } from '@/shared/ui/Exact';
import { NumberTrouble } from '@/shared/ui/NumberTrouble';

interface Props {
  words: string;
  value: number | null;
  placeholder: string;
  onChange: (value: number | null) => void;
}

export function End({ words, value, placeholder, onChange }: Props) {
  const mark = useDecimalMark();
  const [text, setText] = useState(writeShort(value, 6, mark));
  const wrong = Number.isNaN(readNumber(text) ?? 0);
  return (
    <>
      <Labelled words={words}>
        <Exact
          size="small"
          className="field-short"
          value={text}
          placeholder={placeholder}
          status={wrong ? 'error' : ''}
          aria-invalid={wrong}
          onChange={(e) => {
            setText(e.target.value);
            const next = readNumber(e.target.value);
            if (!Number.isNaN(next ?? 0)) onChange(next);
          }}
        />
      </Labelled>
      <NumberTrouble typed={[text]} />
    </>
  );
}
