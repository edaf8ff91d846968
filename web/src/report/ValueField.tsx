// A field for a paragraph: a brace opens a list of what can be written there and follows the readings from then on.
import { Input, type InputRef } from 'antd';
import { type KeyboardEvent, useId, useRef, useState } from 'react';
import type { Schemas } from '@/shared/api/client';
import type { OwnTextState } from '@/shared/ui/useOwnText';

const MOST = 8;

export interface Choice {
  name: string;
  shown: string;
  words: string;
}

interface Props {
  own: OwnTextState;
  label: string;
  hint: string;
  rows: number;
  choices: readonly Choice[];
}

/** What has been typed since the last open brace before the caret; null where none is open. */
export function openName(text: string, caret: number): string | null {
  const found = /\{([^{}\n]{0,40})$/.exec(text.slice(0, caret));
  return found && !found[1]?.startsWith('=') ? (found[1] ?? '') : null;
}

/** Those that are meant, the ones whose name begins so first. */
export function choose(choices: readonly Choice[], typed: string): Choice[] {
  const wanted = typed.trim().toLowerCase();
  const begins = choices.filter((c) => c.name.toLowerCase().startsWith(wanted));
  const holds = choices.filter((c) => !begins.includes(c) && `${c.words} ${c.shown}`.toLowerCase().includes(wanted));
  return [...begins, ...holds].slice(0, MOST);
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
              <b>{choice.shown}</b> <span className="quiet">{choice.words}</span>
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}

/** Values and numbered things as choices. */
export function choicesOf(report: Schemas['Report']): Choice[] {
  const values = report.values.map((v) => ({ name: v.name, shown: v.text, words: v.words }));
  const numbered = report.parts.flatMap((part) =>
    part.blocks.flatMap((block) => {
      if (block.kind === 'table') return [{ name: `see:${block.key}`, shown: `Table ${block.number}`, words: part.title }];
      if (block.kind === 'drawing' || block.kind === 'photo') return [{ name: `see:${block.key}`, shown: `Figure ${block.number}`, words: part.title }];
      return [];
    }),
  );
  return [...values, ...numbered];
}
