// A table of the report on the clipboard: as text with tabs for a sheet of cells, and as a table for a word processor.

/** The cells of a table as they are read, row by row. */
export function rowsOf(table: HTMLTableElement): string[][] {
  return [...table.rows].map((row) => [...row.cells].map((cell) => (cell.textContent || '').replace(/\s+/g, ' ').trim()));
}

export function asTabs(rows: readonly (readonly string[])[]): string {
  return rows.map((row) => row.join('\t')).join('\n');
}

export async function copyTable(table: HTMLTableElement): Promise<void> {
  const plain = asTabs(rowsOf(table));
  const clean = table.cloneNode(true) as HTMLTableElement;
  clean.removeAttribute('class');
  const html = new Blob([clean.outerHTML], { type: 'text/html' });
  await navigator.clipboard.write([new ClipboardItem({ 'text/html': html, 'text/plain': new Blob([plain], { type: 'text/plain' }) })]);
}
