// What a bench adds to its report: a section of its own, a picture.
import { Button, Input } from 'antd';
import { type SubmitEvent, useState } from 'react';
import { useBook, useBookStore } from '@/shared/book/context';
import { newId } from '@/shared/book/newId';
import { TroubleLine } from '@/shared/form/fields';
import { useSend } from '@/shared/form/useSend';
import { sendPictures } from '@/shared/pictures/sendPictures';
import { FileButton } from '@/shared/ui/FileButton';

export function NewParts() {
  const { state } = useBook(({ state }) => ({ state }));
  const store = useBookStore();
  const [title, setTitle] = useState('');
  const [trouble, send, busy] = useSend();
  const add = (event: SubmitEvent) => {
    event.preventDefault();
    if (!title.trim()) return;
    store.edit({ type: 'add_section', section: newId('sec'), title: title.trim() });
    setTitle('');
  };
  const bring = (file: File) =>
    send(async () => {
      for (const picture of await sendPictures([file], '/api/books/{book_id}/pictures', state.id))
        store.edit({ type: 'add_report_picture', picture: { ...picture, data: '' } });
    });
  return (
    <div className="new-parts">
      <form className="row" onSubmit={add}>
        <Input
          size="small"
          className="field-long"
          value={title}
          maxLength={120}
          placeholder="Heading of a new section"
          aria-label="Heading of a new section"
          onChange={(e) => setTitle(e.target.value)}
        />
        <Button size="small" htmlType="submit" disabled={!title.trim()}>
          Add a section
        </Button>
        <FileButton size="small" label="A picture for the report" accept="image/jpeg,image/png,image/webp" onFile={bring} loading={busy}>
          Add a picture
        </FileButton>
      </form>
      <TroubleLine trouble={trouble} />
    </div>
  );
}
