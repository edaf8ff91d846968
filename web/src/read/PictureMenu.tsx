// Pictures at the table: a photo of the paper page to type from, and pictures and films to measure on.
import { Button, Dropdown } from 'antd';
import { useRef } from 'react';
import { FileInput } from '@/shared/ui/FileButton';

interface Props {
  /** Absent where a logger wrote, and nothing is typed. */
  onPhoto: ((file: File) => void) | null;
  onFilm: () => void;
}

export function PictureMenu({ onPhoto, onFilm }: Props) {
  const chooser = useRef<HTMLInputElement>(null);
  const items = [
    ...(onPhoto ? [{ key: 'photo', label: 'A photo of the page, to type from', onClick: () => chooser.current?.click() }] : []),
    { key: 'film', label: 'Measure on a picture or a film', onClick: onFilm },
  ];
  return (
    <>
      <Dropdown trigger={['click']} menu={{ items }}>
        <Button size="small">Pictures</Button>
      </Dropdown>
      {onPhoto && <FileInput at={chooser} label="A photo of the page in the paper lab book" accept="image/*" onFile={onPhoto} />}
    </>
  );
}
