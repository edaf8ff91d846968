// A computed number. Pressing it opens how it came about.
import { type ReactNode, createContext, use } from 'react';

export const WorkingContext = createContext<(of: string) => void>(() => undefined);

export function NumberLink({ of, children, label }: { of: string; children: ReactNode; label?: string }) {
  const show = use(WorkingContext);
  return (
    <button
      type="button"
      className="number-link"
      data-working={of}
      aria-label={label ? `${label}, show the working` : undefined}
      onClick={() => show(of)}
      onKeyDown={(e) => {
        if (e.key === 'w') show(of);
      }}
    >
      {children}
    </button>
  );
}
