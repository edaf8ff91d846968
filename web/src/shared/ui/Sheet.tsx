// A sheet from below: opens in place, leaves the page usable, closes with Esc.
import { Button } from 'antd';
import { type ReactNode, useEffect, useId, useState } from 'react';
import { leaveField } from './leaveField';
import { useFocusKept } from './useFocusKept';
import './sheet.css';

export function Sheet({ title, onClose, children }: { title: ReactNode; onClose: () => void; children: ReactNode }) {
  // two may be open, one over the other
  const called = useId();
  const [sheet, setSheet] = useState<HTMLElement | null>(null);
  // asked before a field of the sheet takes the focus
  const [before] = useState(() => document.activeElement);
  useEffect(() => {
    if (!sheet) return undefined;
    // a field that has taken the focus as the sheet opened keeps it
    if (!sheet.contains(document.activeElement)) sheet.focus();
    return () => {
      // another that has opened in place of this one has taken it
      if (document.activeElement?.closest('.sheet-from-below')) return;
      if (before instanceof HTMLElement && before.isConnected) before.focus();
    };
  }, [before, sheet]);
  useFocusKept(sheet);
  const close = () => {
    leaveField();
    onClose();
  };
  return (
    <section
      ref={setSheet}
      className="sheet-from-below"
      tabIndex={-1}
      role="dialog"
      aria-labelledby={called}
      onKeyDown={(e) => {
        if (e.key === 'Escape') close();
      }}
    >
      <div className="sheet-inner">
        <div className="sheet-head">
          <h2 id={called}>{title}</h2>
          <Button size="small" onClick={close}>
            Close
          </Button>
        </div>
        {children}
      </div>
    </section>
  );
}
