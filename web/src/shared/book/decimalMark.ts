// Numbers that the browser shows by itself, with the class's decimal mark. All others come with it from the server.
import type { Schemas } from '@/shared/api/client';
import { readNumber } from '@/shared/ui/readNumber';

export type DecimalMark = Schemas['Convention']['decimal_mark'];

export const DECIMAL_MARKS: { value: DecimalMark; label: string }[] = [
  { value: 'point', label: 'a point: 12.4' },
  { value: 'comma', label: 'a comma: 12,4' },
];

/** A reading as it was typed, or a number of our own, with this mark; one that has commas already stays as it is. */
export function withMark(text: string, mark: DecimalMark): string {
  return mark === 'comma' && !text.includes(',') ? text.replace(/(?<![.\d])(\d+)\.(?=\d+(?!\.?\d))/g, '$1,') : text;
}

/** What a field holds, and what it was filled with: a number that nobody has changed is itself, not what was shown of it. */
export function readShort(text: string, value: number | null | undefined, figures: number, mark: DecimalMark): number | null {
  return text.trim() === writeShort(value, figures, mark) ? (value ?? null) : readNumber(text);
}

/** A number to so many figures, as somebody would type it; empty for none. */
export function writeShort(value: number | null | undefined, figures: number, mark: DecimalMark): string {
  return value === null || value === undefined ? '' : withMark(String(Number(value.toPrecision(figures))), mark);
}
