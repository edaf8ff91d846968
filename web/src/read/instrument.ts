// What a quantity is read from, while it is being written.
import type { Schemas } from '@/shared/api/client';
import { withoutPlusMinus } from '@/shared/ui/withUnit';

export type Instrument = Schemas['Instrument'];

/** As it stands in the form: texts, none of them checked yet. */
export interface WrittenInstrument {
  name: string;
  kind: Instrument['kind'];
  division: string;
  scatter: string;
  percent: string;
  digits: string;
  common: string;
  between: boolean;
  pair: boolean;
}

const given = (text: string | undefined) => (Number(text) ? (text ?? '') : '');

export function writtenFrom(old: Instrument | null | undefined): WrittenInstrument {
  return {
    name: old?.name ?? '',
    kind: old?.kind ?? KIND_AT_FIRST,
    division: old?.division ?? '',
    scatter: given(old?.scatter),
    percent: given(old?.percent),
    digits: given(old?.digits),
    common: given(old?.common),
    between: old?.between_marks ?? false,
    pair: (old?.readings ?? 1) > 1,
  };
}

const COUNTED: readonly Instrument['kind'][] = ['counted', 'counted_at_random'];
const KIND_AT_FIRST = 'scale';

/** What is written where a name is left blank: whoever counts has nothing else to name. */
export const nameOf = (written: WrittenInstrument) => written.name.trim() || (COUNTED.includes(written.kind) ? 'counting' : '');

export type NumberField = 'division' | 'scatter' | 'percent' | 'digits' | 'common';

/** The numbers that say how uncertain a reading of each kind is, with their words; the last may be left blank. */
export function numbersOf(kind: Instrument['kind']): { field: NumberField; words: string; placeholder: string }[] {
  if (COUNTED.includes(kind)) return [];
  const division = { field: 'division' as const, words: kind === 'scale' ? 'smallest division' : 'last digit', placeholder: kind === 'scale' ? '0.5' : '0.01' };
  const common = { field: 'common' as const, words: 'its scale is known to, %', placeholder: '0.2' };
  if (kind === 'steady') return [{ field: 'scatter', words: 'each reading ±', placeholder: '0.012' }, division, common];
  if (kind === 'maker')
    return [{ field: 'percent', words: '± % of the reading', placeholder: '0.5' }, { field: 'digits', words: '+ how many digits', placeholder: '2' }, division];
  return [division, common];
}

const WITH_UNIT: readonly NumberField[] = ['division', 'scatter'];

/** As it is sent: with a point, without a ± before it, and without the % that the field says itself. */
function plain(field: NumberField, text: string): string {
  const bare = withoutPlusMinus(text).replace(',', '.');
  return WITH_UNIT.includes(field) ? bare : bare.replace(/\s*%$/, '');
}

/** A number, or one with its unit where the field may have one: “1 mm”. */
const isNumber = (field: NumberField, text: string) => (WITH_UNIT.includes(field) ? /^\d*\.?\d+( ?[A-Za-zµμ°Ω]\S*)?$/ : /^\d*\.?\d+$/).test(plain(field, text));
const MAY_BE_NONE: readonly NumberField[] = ['common', 'percent', 'digits'];

/** What is still to be written before readings can have a ±, and in which field; null where nothing is. */
export function lacking(written: WrittenInstrument): { field: NumberField | 'name'; words: string } | null {
  const numbers = numbersOf(written.kind);
  const begun = written.kind !== KIND_AT_FIRST || numbers.some(({ field }) => written[field].trim() !== '');
  if (!nameOf(written)) return begun ? { field: 'name', words: 'Say what it is read from.' } : null;
  for (const { field, words, placeholder } of numbers) {
    const text = written[field];
    const blank = text.trim() === '';
    if (blank && MAY_BE_NONE.includes(field)) continue;
    if (blank || !isNumber(field, text)) return { field, words: `Write a number under “${words}”, such as ${placeholder}. Readings get their ± from it.` };
    if (parseFloat(plain(field, text)) === 0 && !MAY_BE_NONE.includes(field))
      return { field, words: `“${words}” is more than 0. Readings get their ± from it.` };
  }
  if (written.kind === 'maker' && !Number(plain('percent', written.percent)) && !Number(plain('digits', written.digits)))
    return { field: 'percent', words: 'Write what its maker states: a share of the reading, digits, or both.' };
  return null;
}

/** null where it is read from nothing in particular. */
export function readInstrument(written: WrittenInstrument, old: Instrument | null | undefined): Instrument | null {
  const name = nameOf(written);
  if (!name) return null;
  const own = numbersOf(written.kind).map((n) => n.field);
  // what the form does not show stays as it was
  const same = written.kind === old?.kind ? old : null;
  const number = (field: NumberField, none: string) => (own.includes(field) ? plain(field, written[field]) || none : (same?.[field] ?? none));
  const scale = written.kind === 'scale';
  const several = same && same.readings > 1 ? same.readings : 2;
  return {
    name,
    kind: written.kind,
    division: number('division', '1'),
    readings: scale ? (written.pair ? several : 1) : (same?.readings ?? 1),
    between_marks: scale && written.between,
    percent: number('percent', '0'),
    digits: number('digits', '0'),
    scatter: number('scatter', '0'),
    common: number('common', '0'),
  };
}
