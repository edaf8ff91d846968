// A list to choose from in which symbols stand as they do everywhere. Options keep plain words, by which they are found and read out.
import { Select, type SelectProps } from 'antd';
import type { ReactNode } from 'react';
import { Typeset } from './Typeset';

const set = (label: ReactNode) => (typeof label === 'string' ? <Typeset text={label} /> : label);

export function SymbolSelect<Value = string>(props: SelectProps<Value>) {
  return <Select<Value> optionRender={(option) => set(option.label)} labelRender={(chosen) => set(chosen.label)} {...props} />;
}
