// What is drawn on a graph besides its own points: other runs, and quantities of the same unit.
import type { Schemas } from '@/shared/api/client';
import { placeGraph } from '@/shared/book/choices';
import { useBook, useBookStore } from '@/shared/book/context';
import { Labelled } from '@/shared/ui/Labelled';
import { varyingIn } from '@/shared/book/quantities';
import { SymbolSelect } from '@/shared/ui/SymbolSelect';

export function Beside({ graph }: { graph: Schemas['Graph'] }) {
  const { state, analysis, quantities, plainSymbolOf, run } = useBook(({ state, analysis, quantities, plainSymbolOf, run }) => ({
    state,
    analysis,
    quantities,
    plainSymbolOf,
    run,
  }));
  const store = useBookStore();
  const columns = analysis.runs[0]?.columns ?? [];
  const unitOf = (id: string) => columns.find((c) => c.quantity === id)?.unit;
  const runs = state.document.runs.filter((r) => r.id !== run);
  const same = varyingIn(quantities).filter((q) => q.id !== graph.y && q.id !== graph.x && unitOf(q.id) === unitOf(graph.y));
  if (runs.length === 0 && same.length === 0) return null;
  const options = [
    ...(runs.length ? [{ label: 'runs', options: runs.map((r) => ({ value: `run:${r.id}`, label: r.name })) }] : []),
    ...(same.length ? [{ label: 'in the same unit', options: same.map((q) => ({ value: `also:${q.id}`, label: `${plainSymbolOf(q.id)}, ${q.name}` })) }] : []),
  ];
  const chosen = [...graph.runs.filter((r) => r !== run).map((r) => `run:${r}`), ...graph.also.map((q) => `also:${q}`)];
  const choose = (next: string[]) => {
    const of = (kind: string) => next.filter((n) => n.startsWith(`${kind}:`)).map((n) => n.slice(kind.length + 1));
    // the run that is looked at stays chosen for when another one is looked at
    const runsNow = of('run');
    store.edit(
      placeGraph(graph, {
        runs: runsNow.length || graph.runs.includes(run) ? [...new Set([...runsNow, ...(runsNow.length ? [run] : [])])] : [],
        also: of('also'),
      }),
    );
  };
  return (
    <Labelled words="beside it" group>
      <SymbolSelect
        mode="multiple"
        size="small"
        aria-label="What else is drawn on this graph"
        placeholder="another run, or quantity"
        value={chosen}
        disabled={!state.can_edit}
        options={options}
        className="at-least-long"
        popupMatchSelectWidth={false}
        onChange={choose}
      />
    </Labelled>
  );
}
