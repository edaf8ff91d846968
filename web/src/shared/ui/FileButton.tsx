// A button that lets somebody choose a file; the same one can be chosen again.
import { Button, type ButtonProps } from 'antd';
import { type RefObject, useRef } from 'react';

interface InputProps {
  /** What kind of file it is for, as a screen reader says it. */
  label: string;
  accept: string;
  onFile?: (file: File) => void;
  /** Where several can be chosen at once. */
  onFiles?: (files: File[]) => void;
}

/** What the browser chooses files with; something else is pressed for it. */
export function FileInput({ at, label, accept, onFile, onFiles }: InputProps & { at: RefObject<HTMLInputElement | null> }) {
  return (
    <input
      ref={at}
      type="file"
      accept={accept}
      hidden
      multiple={onFiles !== undefined}
      aria-label={label}
      onChange={(e) => {
        const chosen = [...(e.target.files ?? [])];
        e.target.value = '';
        const [first] = chosen;
        if (!first) return;
        onFile?.(first);
        onFiles?.(chosen);
      }}
    />
  );
}

interface Props extends InputProps {
  children: string;
  size?: ButtonProps['size'];
  loading?: boolean;
}

export function FileButton({ children, size = 'middle', loading = false, ...input }: Props) {
  const chooser = useRef<HTMLInputElement>(null);
  return (
    <>
      <Button size={size} loading={loading} onClick={() => chooser.current?.click()}>
        {children}
      </Button>
      <FileInput at={chooser} {...input} />
    </>
  );
}
