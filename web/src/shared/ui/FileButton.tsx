// A button that lets somebody choose a file; the same one can be chosen again.
import { Button, type ButtonProps } from 'antd';
import { useRef } from 'react';

interface Props {
  children: string;
  /** What kind of file it is for, as a screen reader says it. */
  label: string;
  accept: string;
  onFile?: (file: File) => void;
  /** Where several can be chosen at once. */
  onFiles?: (files: File[]) => void;
  size?: ButtonProps['size'];
  loading?: boolean;
}

export function FileButton({ children, label, accept, onFile, onFiles, size = 'middle', loading = false }: Props) {
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
    </>
  );
}
