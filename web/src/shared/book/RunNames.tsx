// Which run is seen: one of several, by its name. Nothing where there is but one.
import { useBook, useBookStore } from './context';
import './run-names.css';

/** `large`: as the heading of a page. */
export function RunNames({ large = false }: { large?: boolean }) {
  const { state, run } = useBook(({ state, run }) => ({ state, run }));
  const store = useBookStore();
  const runs = state.run_order.map((id) => state.document.runs.find((r) => r.id === id)).filter((r) => r !== undefined);
  if (runs.length < 2 && !large) return null;
  return (
    <div className={`runs-names${large ? ' large' : ''}`} role="tablist" aria-label="Runs">
      {runs.map((r) => (
        <button key={r.id} type="button" role="tab" aria-selected={r.id === run} className="run-name" onClick={() => void store.chooseRun(r.id)}>
          {r.name || 'Readings'}
        </button>
      ))}
    </div>
  );
}
