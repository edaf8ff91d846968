// What is done with a block of cells: filled, blanked, copied, pasted over. Each is one edit, which the bar takes back.
import { type ClipboardEvent, useState } from 'react';
import { useDecimalMark } from '@/shared/book/context';
import { withMark } from '@/shared/book/decimalMark';
import { isWorded } from '@/shared/book/quantities';
import { type Row, textOf } from '@/shared/book/rows';
import { isBlock, readBlock, writeBlock } from './block';
import { type CellText, LONGEST, type Slot, count, newSetting } from '@/shared/book/cells';
import { type Chosen, edgesOf } from './chosen';

interface Props {
  chosen: Chosen | null;
  shown: Row[];
  slots: Slot[];
  editable: boolean;
  write: (cells: CellText[], words: (n: number) => string, undoable: boolean) => void;
  onBring: (text: string) => void;
}

export function useBlock({ chosen, shown, slots, editable, write, onBring }: Props) {
  const mark = useDecimalMark();
  const [pasted, setPasted] = useState<{ words: string; text: string } | null>(null);

  const cellsOf = (block: Chosen): { row: Row; slot: Slot }[] => {
    const { top, bottom, left, right } = edgesOf(block);
    return shown.slice(top, bottom + 1).flatMap((row) => slots.slice(left, right + 1).map((slot) => ({ row, slot })));
  };

  const fill = (text: string): boolean => {
    if (!chosen || !editable) return false;
    write(
      cellsOf(chosen).map((cell) => ({ ...cell, text })),
      (n) => `filled ${count(n, 'reading')} with ${text || 'nothing'}`,
      true,
    );
    return true;
  };

  const blank = (words = 'blanked'): boolean => {
    if (!chosen || !editable) return false;
    const full = cellsOf(chosen).filter(({ row, slot }) => textOf(row, slot.quantity.id, slot.repeat));
    write(
      full.map((cell) => ({ ...cell, text: '' })),
      (n) => `${words} ${count(n, 'reading')}`,
      true,
    );
    return true;
  };

  // as it is shown: the tables that it is put into are written with the same mark
  const shownIn = (row: Row, { quantity, repeat }: Slot): string => {
    const text = textOf(row, quantity.id, repeat);
    return isWorded(quantity) ? text : withMark(text, mark);
  };

  const copy = (e: ClipboardEvent): boolean => {
    if (!chosen) return false;
    const { top, bottom, left, right } = edgesOf(chosen);
    const block = shown.slice(top, bottom + 1).map((row) => slots.slice(left, right + 1).map((slot) => shownIn(row, slot)));
    e.clipboardData.setData('text/plain', writeBlock(block));
    e.preventDefault();
    return true;
  };

  const paste = (at: [number, number], text: string): boolean => {
    if (chosen && !isBlock(text)) return fill(text.trim());
    if (!isBlock(text)) return false;
    const { top, left } = chosen ? edgesOf(chosen) : { top: at[0], left: at[1] };
    const block = readBlock(text);
    let outside = 0;
    const cells = block.rows.flatMap((texts, i) => {
      const row = shown[top + i] ?? { id: newSetting(), setAside: null, readings: {} };
      return texts.flatMap((cell, j) => {
        const slot = slots[left + j];
        if (!slot && cell) outside += 1;
        return slot ? [{ row, slot, text: cell }] : [];
      });
    });
    if (cells.some((c) => c.text.length > LONGEST)) {
      // no reading, which is said where a block is looked over
      onBring(text);
      return true;
    }
    write(cells, (n) => `pasted ${count(n, 'reading')}`, true);
    const parts = [
      block.headings ? `The first line (${block.headings.join(', ')}) was taken as headings and left out.` : '',
      outside ? `${count(outside, 'value')} did not fit into the columns to the right and ${outside === 1 ? 'was' : 'were'} left out.` : '',
    ].filter(Boolean);
    setPasted(parts.length ? { words: parts.join(' '), text } : null);
    return true;
  };

  return { pasted, cellsOf, fill, blank, copy, paste };
}
