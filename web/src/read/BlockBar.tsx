// What can be done with a chosen block of readings. The keyboard does the same.
import type { MouseEvent } from 'react';
import { count } from '@/shared/book/cells';

export function BlockBar({
  number,
  first,
  editable,
  onFill,
  onBlank,
  onAside,
}: {
  number: number;
  first: string;
  editable: boolean;
  onFill: (text: string) => boolean;
  onBlank: () => boolean;
  onAside: () => void;
}) {
  // the focus stays in the cell that the block begins at, and with it the block
  const keepFocus = (e: MouseEvent) => e.preventDefault();
  const act = (words: string, key: string, todo: () => void) => (
    <button type="button" tabIndex={-1} title={key} onMouseDown={keepFocus} onClick={todo}>
      {words}
    </button>
  );
  // the clipboard of the newer kind is closed to pages that come from a school's own server without a certificate
  // eslint-disable-next-line @typescript-eslint/no-deprecated
  const clipboard = (what: 'copy' | 'cut') => document.execCommand(what);
  return (
    <div className="block-bar" role="status">
      <span>{count(number, 'cell')} chosen</span>
      {act('copy', 'Ctrl+C', () => clipboard('copy'))}
      {editable && (
        <>
          {act('cut', 'Ctrl+X', () => clipboard('cut'))}
          {first && act(`fill all with ${first}`, 'Ctrl+Enter', () => onFill(first))}
          {act('blank', 'Delete', () => onBlank())}
          {act('set aside', '', onAside)}
        </>
      )}
    </div>
  );
}
