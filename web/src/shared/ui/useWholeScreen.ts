// A sheet as large as the screen: it is open as long as it is drawn, and its first button has the focus.
import { useEffect, useRef } from 'react';

export function useWholeScreen() {
  const sheet = useRef<HTMLDialogElement>(null);
  const first = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    const dialog = sheet.current;
    dialog?.showModal();
    first.current?.focus();
    return () => dialog?.close();
  }, []);
  return { sheet, first };
}
