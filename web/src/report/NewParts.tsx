// What a bench adds to its report: a section of its own, a picture.
import { Button, Input } from 'antd';
import type { SubmitEvent } from 'react';
import { useBook } from '@/shared/book/context';
import { newId } from '@/shared/book/newId';
import { useSubmit } from '@/shared/book/useSubmit';
import { TroubleLine } from '@/shared/form/fields';
import { FileButton } from '@/shared/ui/FileButton';
import { TroubleWords } from '@/shared/ui/TroubleWords';
import { useBegunWords } from '@/shared/ui/useDraft';
import type { NewPictures } from './useNewPictures';

export function NewParts({ pictures }: { pictures: NewPictures }) {
  const { submit, busy, refusal } = useSubmit();
  const { id } = useBook(({ state }) => ({ id: state.id }));
  const [title, setTitle] = useBegunWords(`section ${id}`);
  const forget = () => setTitle('');
  const add = (event: SubmitEvent) => {
    event.preventDefault();
    if (!title.trim()) return;
    submit({ type: 'add_section', section: newId('sec'), title: title.trim() }, forget, forget);
  };
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
        <Button size="small" htmlType="submit" loading={busy} disabled={!title.trim()}>
          Add a section
        </Button>
        <FileButton
          size="small"
          label="A picture for the report"
          accept="image/jpeg,image/png,image/webp"
          onFile={(file) => pictures.bring([file])}
          loading={pictures.busy}
        >
          Add a picture
        </FileButton>
      </form>
      <TroubleWords beside>{refusal}</TroubleWords>
      <TroubleLine trouble={pictures.trouble} />
    </div>
  );
}
