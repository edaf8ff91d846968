// Who else is here, and what is saved, in words.
import { Button } from 'antd';
import { useBook, useBookStore } from '@/shared/book/context';

export function SavedWords({ onHistory, onNotKept }: { onHistory: () => void; onNotKept: () => void }) {
  const { state, refused, unsent, held, onlyHere, reachable } = useBook(({ state, refused, unsent, held, onlyHere, reachable }) => ({
    state,
    refused,
    unsent,
    held,
    onlyHere,
    reachable,
  }));
  const store = useBookStore();
  const wait = `${unsent} ${unsent === 1 ? 'change' : 'changes'} waiting`;
  const words = onlyHere
    ? 'keep this page open'
    : unsent && held === 'signed_out'
      ? `${wait}: sign in again`
      : unsent && (held || !reachable)
        ? wait
        : unsent
          ? 'saving'
          : reachable
            ? 'saved'
            : 'no connection';
  const calm = reachable && !held && !onlyHere;
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
          <Button
            size="small"
            type="text"
            disabled={!state.undo}
            title={state.undo ? `Undo: ${state.undo}` : 'Nothing of yours to undo'}
            onClick={() => void store.step('undo')}
          >
            Undo
          </Button>
          <Button
            size="small"
            type="text"
            disabled={!state.redo}
            title={state.redo ? `Redo: ${state.redo}` : 'Nothing to redo'}
            onClick={() => void store.step('redo')}
          >
            Redo
          </Button>
        </span>
      )}
      <span role="status">
        {refused.length > 0 ? (
          <button type="button" className="plain-button saved refused" title="Show what is not kept" onClick={onNotKept}>
            <i className="saved-dot" />
            {`${refused.length} not kept: look`}
          </button>
        ) : (
          <button
            type="button"
            className={`plain-button saved${calm ? '' : ' waiting'}`}
            title={
              onlyHere ? 'This device has no room to keep what you type. It is sent as ever; leave this page open until it says “saved”.' : 'Show the history'
            }
            onClick={onHistory}
          >
            <i className="saved-dot" />
            {words}
          </button>
        )}
      </span>
    </>
  );
}
