// Headings that are still to be made, in the head of the table: typed where they stand, or pasted with all that belongs to them.
import { useRef, useState } from 'react';
import { TroubleWords } from '@/shared/ui/TroubleWords';
import type { Headings } from './useHeadings';
import { isBlock } from './block';
import { isTyped } from './typing';
import { LETTER_BY_LETTER } from '@/shared/ui/Exact';

/** What stands in them as an example, along and up. */
const HINTS = ['time t (s)', 'length x / m'];

interface Props extends Pick<Headings, 'newDrafts' | 'asked' | 'ask' | 'write' | 'awaits' | 'hold'> {
  /** How many headings there are already. */
  made: number;
  onPaste: (text: string) => void;
}

export function NewHeadings({ made, newDrafts, asked, ask, write, awaits, hold, onPaste }: Props) {
  const there = made + newDrafts.length;
  const blanks = Math.max(2 - there, asked ? 1 : 0);
  return (
    <>
      {newDrafts.map((d) =>
        d.trouble ? (
          <HeadingField
            key={d.quantity}
            label="Heading that was not kept"
            start={d.text}
            hint=""
            trouble={d.trouble}
            focus
            onWrite={(t, on) => write(t, d.quantity, on)}
            onPaste={onPaste}
          />
        ) : (
          <th key={d.quantity} className="ruled-heading">
            <span className="quiet">{d.text}</span>
            {d.quantity === awaits && <Meanwhile onKey={hold} />}
          </th>
        ),
      )}
      {Array.from({ length: blanks }, (_, i) => (
        <HeadingField
          key={`new ${there + i}`}
          label={there + i === 0 ? 'First heading: what you set' : there + i === 1 ? 'Second heading: what you measure' : 'Another heading'}
          start=""
          hint={HINTS[there + i] ?? 'mass m / kg'}
          trouble=""
          focus={asked || there + i === 0}
          onWrite={(text, on) => write(text, null, on)}
          onPaste={onPaste}
        />
      ))}
      {blanks === 0 && (
        <th className="ruled-heading heading-more">
          <button type="button" onClick={ask}>
            + a heading
          </button>
        </th>
      )}
    </>
  );
}

/** Has the focus until there is a cell to type into, and hands on what is typed meanwhile. */
function Meanwhile({ onKey }: { onKey: (key: string) => void }) {
  return (
    <input
      className="meanwhile"
      aria-label="The first reading"
      autoFocus
      readOnly
      {...LETTER_BY_LETTER}
      onKeyDown={(e) => {
        if (!isTyped(e.key) || e.ctrlKey || e.metaKey || e.altKey) return;
        e.preventDefault();
        onKey(e.key);
      }}
    />
  );
}

interface FieldProps {
  label: string;
  start: string;
  hint: string;
  trouble: string;
  focus?: boolean;
  /** Whether Tab does what Enter does: what is typed next may not be there yet. */
  tabGoesOn?: boolean;
  /** `onward`: with Enter or Tab, so that the next is wanted. */
  onWrite: (text: string, onward: boolean) => void;
  onPaste?: (text: string) => void;
  onLeave?: () => void;
}

export function HeadingField(props: FieldProps) {
  return (
    <th scope="col" className="ruled-heading heading-new">
      <HeadingInput {...props} tabGoesOn />
    </th>
  );
}

export function HeadingInput({ label, start, hint, trouble, focus = false, tabGoesOn = false, onWrite, onPaste, onLeave }: FieldProps) {
  const [text, setText] = useState(start);
  // leaving the field after Enter would write it a second time
  const written = useRef(start);
  const write = (onward: boolean) => {
    const now = text.trim();
    if (now && now !== written.current) {
      written.current = now;
      onWrite(now, onward);
    } else onLeave?.();
  };
  return (
    <>
      <input
        aria-label={label}
        placeholder={hint}
        value={text}
        maxLength={120}
        autoFocus={focus}
        {...LETTER_BY_LETTER}
        data-heading=""
        data-dirty={text !== start ? 'yes' : 'no'}
        aria-invalid={trouble !== ''}
        onChange={(e) => setText(e.target.value)}
        onBlur={() => write(false)}
        onKeyDown={(e) => {
          const on = e.key === 'Enter' || (tabGoesOn && e.key === 'Tab' && !e.shiftKey && text.trim() !== written.current);
          if (on) {
            e.preventDefault();
            write(true);
          } else if (e.key === 'Escape') {
            setText(start);
            onLeave?.();
          }
        }}
        onPaste={(e) => {
          const pasted = e.clipboardData.getData('text/plain');
          if (!onPaste || !isBlock(pasted)) return;
          e.preventDefault();
          onPaste(pasted);
        }}
      />
      <TroubleWords beside>{trouble}</TroubleWords>
    </>
  );
}
