// What the bench would need to see before it says that two values agree: asked before it is told, where the plan wants it so.
import { Button, Input } from 'antd';
import type { Schemas } from '@/shared/api/client';
import { useBook, useBookStore } from '@/shared/book/context';
import { useBegunWords } from '@/shared/ui/useDraft';

const BEGINNINGS = ['their bars overlap', 'the accepted value lies within our ±', 'they are less than two ± apart'];

export function Needed({ finding }: { finding: Schemas['Finding'] }) {
  const { state } = useBook(({ state }) => ({ state }));
  const store = useBookStore();
  const [text, setText] = useBegunWords(`needed ${state.id} ${finding.id}`);
  return (
    <form
      className="find-rounding"
      aria-label="What you would need to see"
      onSubmit={(e) => {
        e.preventDefault();
        store.edit({ type: 'write_needed', finding: finding.id, text: text.trim(), was: finding.needed });
        setText('');
      }}
    >
      <p>Before you are told: what would you need to see to say that they agree?</p>
      <div className="row">
        {BEGINNINGS.map((words) => (
          <Button key={words} size="small" disabled={!state.can_edit} onClick={() => setText(words)}>
            {words}
          </Button>
        ))}
      </div>
      <div className="row">
        <Input
          className="at-least-long"
          aria-label="What you would need to see"
          value={text}
          maxLength={300}
          disabled={!state.can_edit}
          placeholder="or in your own words"
          onChange={(e) => setText(e.target.value)}
        />
        {state.can_edit && (
          <Button htmlType="submit" type="primary" disabled={!text.trim()}>
            Write it down
          </Button>
        )}
      </div>
    </form>
  );
}
