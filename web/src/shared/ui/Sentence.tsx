// One line of words that may be longer than its field: it grows, so that all of it is seen. Enter leaves it, and what is pasted over
// several lines becomes one.
import { Input } from 'antd';
import type { TextAreaProps } from 'antd/es/input';

export function Sentence({ onChange, ...field }: TextAreaProps) {
  return (
    <Input.TextArea
      autoSize
      {...field}
      onChange={(e) => {
        const { value } = e.target;
        if (value.includes('\n')) e.target.value = value.replace(/\s*\n\s*/g, ' ');
        onChange?.(e);
      }}
      onPressEnter={(e) => {
        e.preventDefault();
        e.currentTarget.blur();
      }}
    />
  );
}
