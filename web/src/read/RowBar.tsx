// What can be done with the setting that the focus is in, and with that reading of it. It stands under the table, where nothing moves for it.
import type { MouseEvent } from 'react';
import { useDecimalMark } from '@/shared/book/context';
import { withMark } from '@/shared/book/decimalMark';
import type { Row } from '@/shared/book/rows';
import type { Slot } from '@/shared/book/cells';

interface Props {
  row: Row;
  /** What the setting is called. */
  name: string;
  reading: Slot;
  onAsideReading: () => void;
  onAsideSetting: () => void;
  onPast: () => void;
  onRemove: () => void;
}

export function RowBar({ row, name, reading, onAsideReading, onAsideSetting, onPast, onRemove }: Props) {
  const entry = row.readings[reading.quantity.id]?.[reading.repeat] ?? null;
  const text = withMark(entry?.text ?? '', useDecimalMark());
  // the focus stays in its cell
  const keepFocus = (e: MouseEvent) => e.preventDefault();
  const act = (words: string, key: string, todo: () => void) => (
    <button type="button" tabIndex={-1} title={key} onMouseDown={keepFocus} onClick={todo}>
      {words}
    </button>
  );
  return (
    <div className="block-bar row-bar" role="group" aria-label={`What can be done with ${name}`}>
      <span className="row-bar-name">{name}</span>
      {entry && act(entry.set_aside ? `bring ${text} back` : `set ${text} aside`, 'Alt+S', onAsideReading)}
      {act('its history', 'Alt+H', onPast)}
      {act(row.setAside ? 'bring setting back' : 'set setting aside', 'Alt+Shift+S', onAsideSetting)}
      {act('remove setting', 'Alt+Shift+Delete', onRemove)}
    </div>
  );
}
