// A line that is read letter by letter: a number, a symbol, a unit, a formula. No keyboard puts another letter in the place of one: a
// telephone’s would make T of t at its beginning, and “Mm” of mm.
import { Input, type InputProps, type InputRef } from 'antd';
import type { Ref } from 'react';

export const LETTER_BY_LETTER = { autoCapitalize: 'none', autoCorrect: 'off', spellCheck: false } as const;

export function Exact({ className = '', ...field }: InputProps & { ref?: Ref<InputRef> }) {
  return <Input {...LETTER_BY_LETTER} {...field} className={`mono ${className}`.trim()} />;
}
