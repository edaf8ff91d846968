// A line to write in, with its words before it.
import { Input } from 'antd';
import { Labelled } from './Labelled';

interface Props {
  words: string;
  value: string;
  maxLength: number;
  onWrite: (text: string) => void;
  className: string;
  placeholder?: string;
  disabled?: boolean;
  autoFocus?: boolean;
}

export function Entry({ words, onWrite, ...field }: Props) {
  return (
    <Labelled words={words}>
      <Input {...field} onChange={(e) => onWrite(e.target.value)} />
    </Labelled>
  );
}
