// What is said of a text where a number belongs, once nothing that may still be typed makes it one.
import { isBegun, readNumber } from './readNumber';
import { TroubleWords } from './TroubleWords';

export function NumberTrouble({ typed }: { typed: readonly string[] }) {
  const wrong = typed.find((text) => Number.isNaN(readNumber(text) ?? 0) && !isBegun(text));
  return <TroubleWords beside>{wrong === undefined ? '' : `“${wrong.trim()}” is not one number. Write digits alone, such as 0.5.`}</TroubleWords>;
}
