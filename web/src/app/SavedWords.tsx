// Who else is here, and what is saved, in words.
import { Button } from 'antd';
import { useBook, useBookStore } from '@/shared/book/context';

export function SavedWords({ onHistory }: { onHistory: () => void }) {
  const { state, waiting, reachable } = useBook();
  const store = useBookStore();
  const count = waiting.reduce((n, w) => n + (w.edit.type === 'batch' ? w.edit.edits.length : 1), 0);
  const words = !reachable && count ? `${count} ${count === 1 ? 'change' : 'changes'} waiting` : !reachable ? 'no connection' : count ? 'saving' : 'saved';
  return (
    <>
      {state.present.length > 0 && (
        <span className="here" aria-label={`Also here: ${state.present.map((p) => p.name).join(', ')}`}>
          {state.present.map((p) => (
            <span key={p.name}>{p.name}</span>
          ))}
        </span>
      )}
      {state.can_edit && (
        <span>
          <Button size="small" type="text" disabled={!state.undo} title={state.undo ? `Undo: ${state.undo}` : 'Nothing of yours to undo'} onClick={() => void store.step('undo')}>
            Undo
          </Button>
          <Button size="small" type="text" disabled={!state.redo} title={state.redo ? `Redo: ${state.redo}` : 'Nothing to redo'} onClick={() => void store.step('redo')}>
            Redo
          </Button>
        </span>
      )}
      <button type="button" className={`plain-button saved${reachable ? '' : ' waiting'}`} title="Show the history" onClick={onHistory} role="status">
        <i className="saved-dot" />
        {words}
      </button>
    </>
  );
}
