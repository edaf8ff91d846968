// A block of text from the clipboard as rows and cells.

/** A cell of readings begins like a number; 1/T, 2nd time and 10 swings (s) are headings. */
const NUMBERISH = /^[\s+\-−–~<>≈(]*[.,]?\d/;
const BUT_HEADING = /^(?:1\s*\/\s*[^\d\s]|\d+(?:st|nd|rd|th)\b|\d+\s+[^\W\d_]{4,})/u;
const isNumber = (cell: string) => NUMBERISH.test(cell) && !BUT_HEADING.test(cell);
/** A unit alone, as under a heading: (cm), / s, m s⁻¹; without a bracket one of those that tables have, for words stand there too. */
const NAME = '(?:[pnµmcdkMG]?(?:m|g|s|A|V|N|J|W|K|C|T|F|L|l|Hz|Pa|Ω|ohm|mol|lx|bar|eV)|min|h|°C?|%|deg|rad)(?:\\^?[-−]?\\d|[⁻⁰¹²³⁴-⁹]+)?';
const UNIT_ALONE = new RegExp(`^(?:[([].{1,16}[)\\]]|/\\s*\\S(?:.{0,14}\\S)?|${NAME}(?:\\s*[ /·.]\\s*${NAME}){0,3})$`, 'u');

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

/** Lines; a cell of a spreadsheet that has several of its own stands in quotation marks, and is one cell of one line. */
function linesOf(text: string): string[] {
  const plain = text.replace(/\r\n?/g, '\n');
  if (!plain.includes('\t')) return plain.split('\n');
  return plain
    .replace(/(^|\t|\n)"((?:[^"]|"")*)"(?=\t|\n|$)/g, (_, before: string, cell: string) => before + cell.replace(/""/g, '"').replace(/\s*\n\s*/g, ' '))
    .split('\n');
}

/** Headings that stand in two lines: units under the names, or numbers of repeats under a name that stands over several columns. */
function joined(heads: string[], below: string[]): string[] | null {
  const numbers = below.map((cell) => (/^[1-9]\d?$/.test(cell) ? Number(cell) : 0));
  if (below.some((cell, i) => cell && !heads[i]) && below.every((cell, i) => !cell || numbers[i])) {
    let name = '';
    const found: string[] = [];
    for (const [i, cell] of below.entries()) {
      name = heads[i] || name;
      // each begins with 1 or goes on from the one before it
      if (cell && (!name || (numbers[i] !== 1 && (heads[i] || numbers[i] !== (numbers[i - 1] ?? 0) + 1)))) return null;
      found.push(cell ? `${name} ${cell}` : (heads[i] ?? ''));
    }
    return found;
  }
  if (!below.some(Boolean) || below.some((cell, i) => cell && (!heads[i] || !UNIT_ALONE.test(cell)))) return null;
  return heads.map((head, i) => (below[i] ? `${head} ${/^[([/]/.test(below[i]) ? below[i] : `(${below[i]})`}` : head));
}

/** Read a pasted block. A first line in which no cell begins like a number is taken as headings, and what belongs to them in a second. */
export function readBlock(text: string): Block {
  const lines = linesOf(text);
  while (lines.length && !lines[lines.length - 1]?.trim()) lines.pop();
  const rows = lines.map(splitter(lines.filter((l) => l.trim()))).map((cells) => cells.map((c) => c.trim()));
  const first = rows[0];
  if (rows.length < 2 || !first?.some(Boolean) || first.some(isNumber)) return { rows, headings: null };
  const [, second, third] = rows;
  const two = second && third?.some(isNumber) ? joined(first, second) : null;
  return two ? { rows: rows.slice(2), headings: two } : { rows: rows.slice(1), headings: first };
}

export function isBlock(text: string): boolean {
  return /[\t\n]/.test(text.trim());
}

/** Cells as a text that any table takes: tabs between them, a line for each row. */
export function writeBlock(rows: string[][]): string {
  return rows.map((cells) => cells.join('\t')).join('\n');
}
