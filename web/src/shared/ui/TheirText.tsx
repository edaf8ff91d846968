// What somebody else at the bench has written in a paragraph while it was typed: asked beneath it, until one of the two is chosen.
import { Button } from 'antd';
import { useBook, useBookStore } from '@/shared/book/context';
import { isAsked } from '@/shared/queue/rows';

export function TheirText({ section }: { section: string }) {
  const { refused } = useBook(({ refused }) => ({ refused }));
  const store = useBookStore();
  const clash = refused.find((row) => isAsked(row) && row.edit.type === 'write_text' && row.edit.section === section);
  if (!clash) return null;
  return (
    <div className="notice their-text" role="alert">
      <p>Somebody else wrote here meanwhile, and yours above is not kept yet. Theirs:</p>
      <blockquote>{clash.theirs || 'nothing'}</blockquote>
      <p className="row">
        <Button size="small" onClick={() => store.leave(clash.id)}>
          Keep theirs
        </Button>
        <Button size="small" onClick={() => store.retry(clash.id)}>
          Write mine instead
        </Button>
      </p>
    </div>
  );
}
