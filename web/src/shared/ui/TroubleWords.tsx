// What went wrong with something that somebody did or asked for, said where it happened, and spoken when it appears. What a lab book lacks for the
// time being is no such thing: it stands in a plain notice.
import type { ReactNode } from 'react';

/** `beside`: of a field or a choice that it stands under; else of a part of the page, in a frame. */
export function TroubleWords({ children, beside = false }: { children: ReactNode; beside?: boolean }) {
  if (!children) return null;
  return beside ? (
    <em className="trouble-beside" role="alert">
      {children}
    </em>
  ) : (
    <p className="notice" role="alert">
      {children}
    </p>
  );
}
