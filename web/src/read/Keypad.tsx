// Digits under the thumbs: types into the reading that has the focus, so that the device's own keyboard need not cover the table.
import { type PointerEvent, useEffect, useState } from 'react';
import { useDecimalMark } from '@/shared/book/context';
import { focusedCell, press, type } from './typing';

const KEYS = ['7', '8', '9', '4', '5', '6', '1', '2', '3', '−', '0'];

export function Keypad() {
  const mark = useDecimalMark();
  const [letters, setLetters] = useState(false);
  // the keys cover the lower part of the page: the cell that is typed into comes up from under them
  useEffect(() => {
    const lift = () => focusedCell()?.scrollIntoView({ block: 'nearest' });
    lift();
    document.addEventListener('focusin', lift);
    return () => document.removeEventListener('focusin', lift);
  }, []);
  const keep = (e: PointerEvent) => e.preventDefault();
  const key = (label: string, words: string, todo: () => void, wide = false) => (
    <button
      key={label}
      type="button"
      tabIndex={-1}
      className={wide ? 'wide' : undefined}
      aria-label={words}
      onPointerDown={keep}
      onMouseDown={(e) => e.preventDefault()}
      onClick={todo}
    >
      {label}
    </button>
  );
  // the device's own keyboard, for a unit or a word
  const useLetters = () => {
    const cell = focusedCell();
    setLetters(!letters);
    if (cell) cell.inputMode = letters ? 'none' : 'text';
    cell?.blur();
    cell?.focus();
  };
  if (letters)
    return (
      <div className="keypad folded" role="group" aria-label="Keypad">
        {key('123', 'Back to the keypad', useLetters)}
      </div>
    );
  return (
    <div className="keypad" role="group" aria-label="Keypad">
      <div className="keypad-digits">
        {KEYS.map((k) => key(k, k === '−' ? 'minus' : k, () => type(k)))}
        {mark === 'comma' ? key(',', 'decimal comma', () => type(',')) : key('.', 'decimal point', () => type('.'))}
      </div>
      <div className="keypad-acts">
        {key('⌫', 'Take the last sign away', () => type(''))}
        {key('×10ⁿ', 'times ten to the power', () => type('×10^'))}
        {key('abc', 'Letters, for a unit', useLetters)}
        {key('back', 'The cell before', () => press('Enter', true))}
        {key('next', 'The next cell', () => press('Enter'), true)}
      </div>
    </div>
  );
}
