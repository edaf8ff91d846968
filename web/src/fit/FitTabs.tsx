// The fits of this lab book: which one is looked at, and fitting something more: another run, another quantity, another stretch.
import { Button } from 'antd';
import type { Schemas } from '@/shared/api/client';
import { plainLine } from '@/shared/book/choices';
import { useBook, useBookStore } from '@/shared/book/context';
import { newId } from '@/shared/book/newId';
import { isWorded, varyingIn } from '@/shared/book/quantities';
import { SymbolSelect } from '@/shared/ui/SymbolSelect';
import { Typeset } from '@/shared/ui/Typeset';

interface Props {
  /** None as long as nothing is fitted. */
  fit: Schemas['Fit'] | null;
  onChoose: (fit: string) => void;
}

export function FitTabs({ fit, onChoose }: Props) {
  const { analysis, graphs, fits, plainSymbolOf } = useBook(({ analysis, graphs, fits, plainSymbolOf }) => ({ analysis, graphs, fits, plainSymbolOf }));
  const nameOf = (f: Schemas['Fit']) => {
    const graph = graphs.find((g) => g.id === f.graph);
    const axes = graph ? `${plainSymbolOf(f.y || graph.y)} against ${plainSymbolOf(graph.x)}` : f.id;
    const name = analysis.fits.find((c) => c.fit === f.id)?.name;
    return name ? `${axes}: ${name}` : axes;
  };
  if (fits.length < 2) return null;
  return (
    <div role="tablist" aria-label="Fits" className="row fit-tabs">
      {fits.map((f) => (
        <button
          key={f.id}
          type="button"
          role="tab"
          aria-selected={f.id === fit?.id}
          className={f.id === fit?.id ? 'chosen' : ''}
          onClick={() => onChoose(f.id)}
        >
          <Typeset text={nameOf(f)} />
        </button>
      ))}
    </div>
  );
}

/** Fitting something more, and taking this one away. */
export function FitMore({ fit, onChoose }: Props) {
  const { state, analysis, graphs, quantities, plainSymbolOf, run } = useBook(({ state, analysis, graphs, quantities, plainSymbolOf, run }) => ({
    state,
    analysis,
    graphs,
    quantities,
    plainSymbolOf,
    run,
  }));
  const store = useBookStore();
  const unit = (id: string) => analysis.runs[0]?.columns.find((c) => c.quantity === id)?.unit;
  const offers = graphs
    .filter((g) => !isWorded(quantities.find((q) => q.id === g.x)))
    .flatMap((g) =>
      state.document.runs.flatMap((r) =>
        [
          g.y,
          ...g.also,
          ...varyingIn(quantities)
            .filter((q) => q.id !== g.x && q.id !== g.y && !g.also.includes(q.id) && g.id === fit?.graph && unit(q.id) === unit(g.y))
            .map((q) => q.id),
        ].map((y) => ({
          value: JSON.stringify([g.id, r.id === run ? '' : r.id, y === g.y ? '' : y]),
          label: `${plainSymbolOf(y)} against ${plainSymbolOf(g.x)}${state.document.runs.length > 1 ? `, ${r.name}` : ''}`,
        })),
      ),
    );
  const add = (chosen: string) => {
    const [graph, ofRun, y] = JSON.parse(chosen) as [string, string, string];
    const id = newId('f');
    store.edit({ type: 'add_fit', fit: id, graph, choice: { ...plainLine, weights: fit?.weights ?? plainLine.weights, run: ofRun, y } });
    onChoose(id);
  };
  return (
    <div className="row fit-tabs">
      {state.can_edit && (
        <SymbolSelect
          size="small"
          aria-label="Fit something more"
          value={null}
          placeholder={fit ? 'fit something more …' : 'fit a line to …'}
          options={offers}
          className="at-least-long"
          popupMatchSelectWidth={false}
          onChange={(v: string | null) => v && add(v)}
        />
      )}
      {state.can_edit && fit && (
        <Button size="small" type="text" danger onClick={() => store.edit({ type: 'remove_fit', fit: fit.id }, 'The fit was removed. Its points stay.')}>
          Remove this fit
        </Button>
      )}
    </div>
  );
}
