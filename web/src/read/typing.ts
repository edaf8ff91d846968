// Typing into the reading that has the focus, as a hand at the keyboard would: by the keypad, or with what was typed before the cell was there.

export function focusedCell(): HTMLInputElement | null {
  const cell = document.activeElement;
  return cell instanceof HTMLInputElement && cell.dataset.cell ? cell : null;
}

/** An empty text takes the last sign away. */
export function type(text: string): void {
  const cell = focusedCell();
  if (!cell || cell.readOnly) return;
  const [start, end] = [cell.selectionStart ?? cell.value.length, cell.selectionEnd ?? cell.value.length];
  if (text) cell.setRangeText(text, start, end, 'end');
  else cell.setRangeText('', start === end ? Math.max(0, start - 1) : start, end, 'end');
  cell.dispatchEvent(new Event('input', { bubbles: true }));
}

export function press(key: string, shiftKey = false): void {
  focusedCell()?.dispatchEvent(new KeyboardEvent('keydown', { key, shiftKey, bubbles: true, cancelable: true }));
}

/** Whether a key is one that `typeOut` can type later: a sign, Enter, or the one that takes a sign away. */
export const isTyped = (key: string): boolean => key.length === 1 || key === 'Enter' || key === 'Backspace';

/** What keys come to: a text for each cell, Enter between them. */
export function textsOf(keys: readonly string[]): string[] {
  const texts = [''];
  for (const key of keys) {
    const last = texts.length - 1;
    const text = texts[last] ?? '';
    if (key === 'Enter') texts.push('');
    else texts[last] = key === 'Backspace' ? text.slice(0, -1) : text + key;
  }
  return texts;
}

/** Types what keys come to: each text as a whole, for a cell shows what is typed only after all of this. */
export function typeOut(keys: readonly string[]): void {
  textsOf(keys).forEach((text, i) => {
    if (i > 0) press('Enter');
    if (text) type(text);
  });
}
