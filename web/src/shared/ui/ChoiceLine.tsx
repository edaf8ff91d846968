// One line between a page's title and its content: what has been chosen, in words. A press unfolds the choices under it.
import { type KeyboardEvent, type ReactNode, useId, useRef } from 'react';
import { Typeset } from './Typeset';
import { useRemembered } from './useRemembered';
import './choice-line.css';

interface Props {
  title: string;
  /** What has been chosen, most important first. */
  words: readonly (string | false)[];
  /** What stays beside the line: which of several is looked at. */
  beside?: ReactNode;
  children: ReactNode;
}

export function ChoiceLine({ title, words, beside, children }: Props) {
  const id = useId();
  const [open, setOpen] = useRemembered(`choices of ${title}`);
  const line = useRef<HTMLButtonElement>(null);
  const leave = (e: KeyboardEvent) => {
    // an open list takes its Escape for itself
    if (e.key !== 'Escape' || (e.target as HTMLElement).getAttribute('aria-expanded') === 'true') return;
    e.stopPropagation();
    setOpen(false);
    line.current?.focus();
  };
  return (
    <>
      <div className="choice-line">
        <h1>{title}</h1>
        <button ref={line} type="button" className="choice-words" aria-expanded={open} aria-controls={id} onClick={() => setOpen(!open)}>
          <Typeset text={words.filter(Boolean).join(' · ')} />
          <span aria-hidden="true" className="choice-mark">
            {open ? '▴' : '▾'}
          </span>
        </button>
        {beside}
      </div>
      {open && (
        <div id={id} className="choice-sheet" role="group" aria-label={`Choices of ${title.toLowerCase()}`} onKeyDown={leave}>
          {children}
        </div>
      )}
    </>
  );
}
