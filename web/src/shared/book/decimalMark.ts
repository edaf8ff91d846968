// Numbers that the browser shows by itself, with the class's decimal mark. All others come with it from the server.
import type { Schemas } from '@/shared/api/client';

export type DecimalMark = Schemas['Convention']['decimal_mark'];

/** A reading as it was typed, or a number of our own, with this mark; one that has commas already stays as it is. */
export function withMark(text: string, mark: DecimalMark): string {
  return mark === 'comma' && !text.includes(',') ? text.replace(/(?<![.\d])(\d+)\.(?=\d+(?!\.?\d))/g, '$1,') : text;
}

/** A number to so many figures, as somebody would type it; empty for none. */
export function writeShort(value: number | null | undefined, figures: number, mark: DecimalMark): string {
  return value === null || value === undefined ? '' : withMark(String(Number(value.toPrecision(figures))), mark);
}
