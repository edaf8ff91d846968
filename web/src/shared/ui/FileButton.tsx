// A button that lets somebody choose a file; the same one can be chosen again.
import { Button, type ButtonProps } from 'antd';
import { useRef } from 'react';

interface Props {
  children: string;
  /** What kind of file it is for, as a screen reader says it. */
  label: string;
  accept: string;
  onFile: (file: File) => void;
  size?: ButtonProps['size'];
  loading?: boolean;
}

export function FileButton({ children, label, accept, onFile, size = 'middle', loading = false }: Props) {
  const chooser = useRef<HTMLInputElement>(null);
  return (
    <>
      <Button size={size} loading={loading} onClick={() => chooser.current?.click()}>
        {children}
      </Button>
      <input
        ref={chooser}
        type="file"
        accept={accept}
        hidden
        aria-label={label}
        onChange={(e) => {
          const chosen = e.target.files?.[0];
          e.target.value = '';
          if (chosen) onFile(chosen);
        }}
      />
    </>
  );
}
