// Writing a note that is to be pinned to something on a graph.
import { Button, Input } from 'antd';
import { useBook } from '@/shared/book/context';
import { useDraft } from './useDraft';

/** `about` names what it is pinned to. */
export function NoteForm({ about, onPin, words = 'Pin a note' }: { about: string; onPin: (text: string) => void; words?: string }) {
  const { id } = useBook(({ state }) => ({ id: state.id }));
  const [text, setText] = useDraft<string>(`note ${id} ${about}`);
  if (text === null)
    return (
      <Button size="small" onClick={() => setText('')}>
        {words}
      </Button>
    );
  return (
    <form
      className="row note-form"
      onSubmit={(e) => {
        e.preventDefault();
        if (text.trim()) onPin(text.trim());
        setText(null);
      }}
      onKeyDown={(e) => {
        if (e.key === 'Escape') setText(null);
      }}
    >
      <Input
        size="small"
        autoFocus
        aria-label="The note"
        value={text}
        maxLength={300}
        placeholder="what there is to see here"
        className="field-long"
        onChange={(e) => setText(e.target.value)}
      />
      <Button size="small" htmlType="submit" disabled={!text.trim()}>
        Pin it
      </Button>
    </form>
  );
}
