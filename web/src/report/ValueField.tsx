// A field for a paragraph: a brace opens a list of what can be written there and follows the readings from then on.
import { Input, type InputRef } from 'antd';
import { type KeyboardEvent, useId, useRef, useState } from 'react';
import type { OwnTextState } from '@/shared/ui/useOwnText';
import { type Choice, choose, openName } from './valueNames';
import { Typeset } from '@/shared/ui/Typeset';

interface Props {
  own: OwnTextState;
  label: string;
  hint: string;
  rows: number;
  choices: readonly Choice[];
}

export function ValueField({ own, label, hint, rows, choices }: Props) {
  const [caret, setCaret] = useState<number | null>(null);
  const [at, setAt] = useState(0);
  const area = useRef<InputRef>(null);
  const list = useId();
  const typed = caret === null ? null : openName(own.text, caret);
  const found = typed === null ? [] : choose(choices, typed);
  const chosen = found[Math.min(at, found.length - 1)];
  const field = () => (area.current as unknown as { resizableTextArea?: { textArea: HTMLTextAreaElement } } | null)?.resizableTextArea?.textArea;
  const put = (choice: Choice) => {
    if (caret === null || typed === null) return;
    const start = caret - typed.length;
    const after = own.text.slice(caret).replace(/^\}/, '');
    own.change(`${own.text.slice(0, start)}${choice.name}}${after}`);
    setCaret(null);
    const end = start + choice.name.length + 1;
    requestAnimationFrame(() => field()?.setSelectionRange(end, end));
  };
  const onKeyDown = (event: KeyboardEvent) => {
    if (!chosen) return;
    const moves: Record<string, number> = { ArrowDown: 1, ArrowUp: -1 };
    const by = moves[event.key];
    if (by !== undefined) {
      event.preventDefault();
      setAt((found.indexOf(chosen) + by + found.length) % found.length);
    } else if (event.key === 'Enter' || event.key === 'Tab') {
      event.preventDefault();
      put(chosen);
    } else if (event.key === 'Escape') {
      event.stopPropagation();
      setCaret(null);
    }
  };
  return (
    <div className="value-field">
      <Input.TextArea
        ref={area}
        value={own.text}
        aria-label={label}
        aria-autocomplete="list"
        aria-controls={found.length ? list : undefined}
        aria-activedescendant={chosen ? `${list}-${chosen.name}` : undefined}
        placeholder={hint}
        autoSize={{ minRows: rows }}
        spellCheck
        data-dirty={own.dirty ? 'yes' : 'no'}
        onChange={(e) => {
          own.change(e.target.value);
          setCaret(e.target.selectionEnd);
          setAt(0);
        }}
        onKeyDown={onKeyDown}
        onBlur={() => {
          own.leave();
          setCaret(null);
        }}
      />
      {found.length > 0 && (
        <ul className="value-list" id={list} role="listbox" aria-label="Values that follow the readings">
          {found.map((choice) => (
            <li
              key={choice.name}
              id={`${list}-${choice.name}`}
              role="option"
              aria-selected={choice === chosen}
              onMouseDown={(e) => {
                e.preventDefault();
                put(choice);
              }}
            >
              <b>{choice.shown}</b>{' '}
              <span className="quiet">
                <Typeset text={choice.words} />
              </span>
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
