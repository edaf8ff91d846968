// Even settings from one value to another: worked out in whole units of the last decimal, so that 0.1 in steps of 0.1 stays 0.3 and not 0.30000000000000004.
import { decimalsOf } from '@/shared/book/cells';

/** More in one go is a slip of the step. */
export const MOST_LAID_OUT = 200;

export type LaidOut = { values: string[] } | { wrong: string };

export function layOut(from: string, to: string, step: string): LaidOut {
  const texts = [from, to, step].map((text) => text.trim());
  const decimals = Math.max(...texts.map((text) => decimalsOf(text) ?? 0));
  const size = 10 ** decimals;
  const [low, high, by] = texts.map((text) => (decimalsOf(text) === null ? NaN : Math.round(Number(text.replace(',', '.').replace('−', '-')) * size)));
  if (low === undefined || high === undefined || by === undefined || ![low, high, by].every(Number.isSafeInteger))
    return { wrong: 'Three plain numbers, as 0.30, 0.65 and 0.05.' };
  const stride = low <= high ? Math.abs(by) : -Math.abs(by);
  if (stride === 0) return { wrong: 'A step of nought leads nowhere.' };
  const count = Math.floor((high - low) / stride) + 1;
  if (count > MOST_LAID_OUT) return { wrong: `That would be ${count} settings; at most ${MOST_LAID_OUT} are laid out at once.` };
  const comma = texts.some((text) => text.includes(','));
  const values = Array.from({ length: count }, (_, i) => ((low + i * stride) / size).toFixed(decimals));
  return { values: comma ? values.map((value) => value.replace('.', ',')) : values };
}
