// What is folded away under a question, and stays unfolded once somebody has asked.
import type { ReactNode } from 'react';
import { useRemembered } from './useRemembered';

export function Fold({ words, className, children }: { words: string; className?: string; children: ReactNode }) {
  const [open, setOpen] = useRemembered(words);
  return (
    <details className={className} open={open} onToggle={(e) => e.currentTarget.open !== open && setOpen(e.currentTarget.open)}>
      <summary
        onClick={(e) => {
          // kept at once: the page may be drawn anew before it is unfolded
          e.preventDefault();
          setOpen(!open);
        }}
      >
        {words}
      </summary>
      {children}
    </details>
  );
}
