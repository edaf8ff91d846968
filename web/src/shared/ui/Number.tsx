// A computed number. Pressing it opens how it came about.
import { type ReactNode, createContext, use } from 'react';

export const WorkingContext = createContext<(of: string) => void>(() => undefined);

/** `inTable`: Tab passes it by, for among readings Tab goes from reading to reading and what is typed next must not land on a button. */
export function NumberLink({ of, children, label, inTable = false }: { of: string; children: ReactNode; label?: string; inTable?: boolean }) {
  const show = use(WorkingContext);
  return (
    <button
      type="button"
      className="number-link"
      tabIndex={inTable ? -1 : undefined}
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
