// One cell of the ruled table. What is typed is a draft until the cell is left; leaving it commits once.
import { type KeyboardEvent, useRef, useState } from 'react';
import type { Way } from './chosen';
import { type DecimalMark, withMark } from '@/shared/book/decimalMark';
import { LETTER_BY_LETTER } from '@/shared/ui/Exact';
import { useWhenGone } from '@/shared/ui/useTyped';

export type Place = 'above' | 'below' | 'left' | 'right' | 'onward' | 'backward' | 'row-start' | 'row-end' | 'top' | 'bottom' | 'stay';

const ARROWS: Partial<Record<string, Way>> = { ArrowUp: 'up', ArrowDown: 'down', ArrowLeft: 'left', ArrowRight: 'right' };

export interface ReadingCellProps {
  at: [number, number];
  cell: string;
  label: string;
  saved: string;
  decimals: number | null;
  mark: DecimalMark;
  /** Words are written here, not numbers. */
  words: boolean;
  /** Places that it has fewer than others of its column: it stands so much further left. */
  lacks: number;
  aside: string | null;
  trouble: string;
  hint: string;
  slip: string;
  other: string;
  editable: boolean;
  /** On a touch screen our own keypad types; the device's stays away. */
  touch: boolean;
  /** Whether it is in the chosen block, and whether there is one. */
  chosen: boolean;
  inBlock: boolean;
  /** `was`: what stood there when typing began. */
  onCommit: (text: string, was: string) => void;
  /** `written`: whether leaving the cell has just written something. */
  onMove: (place: Place, written: boolean) => void;
  onExtend: (way: Way) => void;
  /** The mouse has gone down here with Shift, or come here while held down (`start`: gone down here). */
  onReach: (start: boolean) => void;
  onPaste: (text: string) => boolean;
  /** Write the text in every cell of the block; false where there is no block. */
  onFill: (text: string) => boolean;
  onBlank: () => boolean;
  onFocus: () => void;
  /** What stands over it where every setting is a card, and whether it is what the setting is called by. */
  head: string;
  sets: boolean;
  onAside: () => void;
  onAsideSetting: () => void;
  onRemove: () => void;
  onPast: () => void;
}

function ghostOf(decimals: number | null, mark: DecimalMark): string {
  if (decimals === null) return '';
  return withMark(decimals > 0 ? `0.${'0'.repeat(decimals)}` : '0', mark);
}

export function ReadingCell(p: ReadingCellProps) {
  const [draft, setDraft] = useState<string | null>(null);
  // blur follows every move, so what has been committed is remembered until the next keystroke
  const pending = useRef<{ text: string; was: string } | null>(null);
  const shown = (kept: string) => (p.words ? kept : withMark(kept, p.mark));
  const text = draft ?? shown(p.saved);

  const commit = (): boolean => {
    const typed = pending.current;
    pending.current = null;
    setDraft(null);
    if (typed === null || typed.text.trim() === shown(typed.was)) return false;
    p.onCommit(typed.text.trim(), typed.was);
    return true;
  };

  // a row that somebody else takes away comes back with what was being typed in it
  useWhenGone(commit);

  const type = (next: string) => {
    pending.current = { text: next, was: pending.current?.was ?? p.saved };
    setDraft(next);
  };

  const press = (e: KeyboardEvent<HTMLInputElement>) => {
    const input = e.currentTarget;
    const atStart = input.selectionStart === 0 && (input.selectionEnd === 0 || input.selectionEnd === input.value.length);
    const atEnd = input.selectionEnd === input.value.length && (input.selectionStart === input.value.length || input.selectionStart === 0);
    // a cell just come to is selected whole: Home and End then walk the table, and the text once the caret is in it
    const whole = input.selectionStart === 0 && input.selectionEnd === input.value.length;
    const go = (place: Place) => {
      e.preventDefault();
      p.onMove(place, commit());
    };
    const choose = (way: Way) => {
      e.preventDefault();
      commit();
      p.onExtend(way);
    };
    const arrow = ARROWS[e.key];
    if (e.key === 'Enter' && (e.ctrlKey || e.metaKey)) {
      if (p.onFill(text.trim())) {
        e.preventDefault();
        pending.current = null;
        setDraft(null);
      }
    } else if (arrow && e.shiftKey && (whole || arrow === 'up' || arrow === 'down')) choose(arrow);
    else if (e.key.toLowerCase() === 'a' && (e.ctrlKey || e.metaKey) && whole) choose('all');
    else if ((e.key === 'Delete' || e.key === 'Backspace') && !e.altKey && p.inBlock && p.onBlank()) e.preventDefault();
    else if (e.key === 'Enter') go(e.shiftKey ? 'backward' : 'onward');
    else if (e.key === 'ArrowUp') go('above');
    else if (e.key === 'ArrowDown') go('below');
    else if (e.key === 'ArrowLeft' && atStart && !e.shiftKey) go('left');
    else if (e.key === 'ArrowRight' && atEnd && !e.shiftKey) go('right');
    else if (e.key === 'Home' && whole && !e.shiftKey) go(e.ctrlKey ? 'top' : 'row-start');
    else if (e.key === 'End' && whole && !e.shiftKey) go(e.ctrlKey ? 'bottom' : 'row-end');
    else if (e.key === 'F2') {
      e.preventDefault();
      input.setSelectionRange(input.value.length, input.value.length);
    } else if (e.key === 'Escape') {
      pending.current = null;
      setDraft(null);
      p.onMove('stay', false);
    } else if (e.altKey && e.code === 'KeyS') {
      e.preventDefault();
      commit();
      if (e.shiftKey) p.onAsideSetting();
      else p.onAside();
    } else if (e.altKey && e.shiftKey && (e.key === 'Delete' || e.key === 'Backspace')) {
      e.preventDefault();
      commit();
      p.onRemove();
    } else if (e.altKey && e.code === 'KeyH') {
      e.preventDefault();
      commit();
      p.onPast();
    }
  };

  const mark = p.trouble ? 'trouble' : p.slip ? 'slipped' : '';
  const words = [p.trouble || p.slip, p.hint, p.aside ? `Set aside: ${p.aside}` : '', p.other ? `${p.other} is here` : ''].filter(Boolean).join(' ');
  return (
    <td
      data-head={p.head}
      className={`reading ${p.sets ? 'sets ' : ''}${p.words ? 'words ' : ''}${mark}${p.aside ? ' aside' : ''}${p.other ? ' other' : ''}${p.chosen ? ' chosen' : ''}`}
      title={words || undefined}
      onMouseDown={(e) => {
        if (e.button !== 0) return;
        if (e.shiftKey) e.preventDefault();
        p.onReach(!e.shiftKey);
      }}
      onMouseEnter={(e) => {
        if (e.buttons === 1) p.onReach(false);
      }}
    >
      <input
        data-at={p.at.join(':')}
        data-cell={p.cell}
        data-light={p.cell}
        data-dirty={draft !== null ? 'yes' : 'no'}
        aria-label={words ? `${p.label}. ${words}` : p.label}
        aria-invalid={p.trouble ? true : undefined}
        value={text}
        readOnly={!p.editable}
        placeholder={ghostOf(p.decimals, p.mark)}
        style={p.lacks > 0 && draft === null ? { paddingRight: `calc(14px + ${p.lacks}ch)` } : undefined}
        inputMode={p.words ? 'text' : p.touch ? 'none' : 'decimal'}
        autoComplete="off"
        {...(p.words ? {} : LETTER_BY_LETTER)}
        size={8}
        maxLength={p.words ? 200 : 60}
        onChange={(e) => type(e.target.value)}
        onKeyDown={press}
        onFocus={(e) => {
          e.currentTarget.select();
          p.onFocus();
        }}
        onBlur={commit}
        // the text of a cell just come to is selected, and dragging it would move it into another cell
        onDragStart={(e) => e.preventDefault()}
        onPaste={(e) => {
          if (p.editable && p.onPaste(e.clipboardData.getData('text'))) {
            e.preventDefault();
            pending.current = null;
            setDraft(null);
          }
        }}
      />
      {p.other && <span className="reading-other">{p.other}</span>}
    </td>
  );
}
