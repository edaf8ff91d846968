// A block of text from the clipboard as rows and cells.

const NUMBERISH = /^[\s+\-−–]*[\d.,]/;

/** Which sign separates the cells: tabs, then semicolons (decimal commas), then commas (decimal points), then runs of blanks. */
function splitter(lines: string[]): (line: string) => string[] {
  const all = (sign: string) => lines.filter((l) => l.includes(sign)).length >= Math.ceil(lines.length * 0.6);
  if (all('\t')) return (l) => l.split('\t');
  if (all(';')) return (l) => l.split(';');
  // a comma separates only where it cannot be a decimal sign: with points for decimals, or with a blank behind it
  if (all(',') && (lines.some((l) => l.includes('.')) || all(', ') || lines.some((l) => (l.match(/,/g)?.length ?? 0) > 1))) return (l) => l.split(',');
  if (lines.some((l) => /\S {2,}\S/.test(l) || /^[\d.,+\-−]+( [\d.,+\-−]+)+$/.test(l.trim()))) return (l) => l.trim().split(/ +/);
  return (l) => [l];
}

export interface Block {
  rows: string[][];
  headings: string[] | null;
}

/** Read a pasted block. A first line in which no cell begins like a number is taken as headings. */
export function readBlock(text: string): Block {
  const lines = text.replace(/\r\n?/g, '\n').split('\n');
  while (lines.length && !lines[lines.length - 1]?.trim()) lines.pop();
  const rows = lines.map(splitter(lines.filter((l) => l.trim()))).map((cells) => cells.map((c) => c.trim()));
  const first = rows[0];
  const headed = rows.length > 1 && first !== undefined && first.some((c) => c) && first.every((c) => !NUMBERISH.test(c));
  return headed ? { rows: rows.slice(1), headings: first } : { rows, headings: null };
}

export function isBlock(text: string): boolean {
  return /[\t\n]/.test(text.trim());
}

/** Cells as a text that any table takes: tabs between them, a line for each row. */
export function writeBlock(rows: string[][]): string {
  return rows.map((cells) => cells.join('\t')).join('\n');
}
