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
  /** It has to be looked at again; why is said beside it. */
  wrong?: boolean;
}

export function Entry({ words, onWrite, wrong = false, ...field }: Props) {
  return (
    <Labelled words={words}>
      <Input {...field} status={wrong ? 'error' : ''} onChange={(e) => onWrite(e.target.value)} />
    </Labelled>
  );
}
