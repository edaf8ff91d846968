// A line to write in, with its words before it.
import { Input } from 'antd';
import { Exact } from './Exact';
import { Labelled } from './Labelled';

interface Props {
  words: string;
  value: string;
  maxLength: number;
  onWrite: (text: string) => void;
  className: string;
  /** Read letter by letter. */
  exact?: boolean;
  placeholder?: string;
  disabled?: boolean;
  autoFocus?: boolean;
  /** It has to be looked at again; why is said beside it. */
  wrong?: boolean;
}

export function Entry({ words, onWrite, exact = false, wrong = false, ...field }: Props) {
  const Line = exact ? Exact : Input;
  return (
    <Labelled words={words}>
      <Line {...field} status={wrong ? 'error' : ''} onChange={(e) => onWrite(e.target.value)} />
    </Labelled>
  );
}
