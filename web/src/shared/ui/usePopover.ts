// A small list that opens under its button: it closes when the focus leaves it, and Escape leads back to the button.
import { type FocusEvent, type KeyboardEvent, useRef, useState } from 'react';

export function usePopover() {
  const [open, setOpen] = useState(false);
  const opener = useRef<HTMLButtonElement>(null);
  const close = () => {
    setOpen(false);
    opener.current?.focus();
  };
  return {
    open,
    opener,
    close,
    toggle: () => setOpen(!open),
    /** For what holds the button and the list. */
    around: {
      onBlur: (e: FocusEvent<HTMLElement>) => {
        if (!e.currentTarget.contains(e.relatedTarget)) setOpen(false);
      },
      onKeyDown: (e: KeyboardEvent<HTMLElement>) => {
        if (e.key !== 'Escape' || !open) return;
        e.stopPropagation();
        close();
      },
    },
  };
}
