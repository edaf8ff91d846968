// One number that a finding uses: under what symbol, what it is, and where it is taken.
import { Button, InputNumber } from 'antd';
import { useBook, useSlopeWord } from '@/shared/book/context';
import { Labelled } from '@/shared/ui/Labelled';
import { measuredIn, varyingIn } from '@/shared/book/quantities';
import { SymbolSelect } from '@/shared/ui/SymbolSelect';
import { End } from './End';
import { FARTHEST, type Ingredient, KINDS, type Kind, STRETCHES, blank } from './ingredients';
import { Exact } from '@/shared/ui/Exact';

interface Props {
  ingredient: Ingredient;
  onChange: (next: Ingredient) => void;
  onRemove: () => void;
}

const FIT_KINDS: Kind[] = ['fit', 'read_forward', 'read_back', 'unknown', 'tangent', 'summit'];

export function IngredientRow({ ingredient: i, onChange, onRemove }: Props) {
  const word = useSlopeWord();
  const { quantities, graphs, fits, analysis, state, symbolOf, plainSymbolOf } = useBook(
    ({ quantities, graphs, fits, analysis, state, symbolOf, plainSymbolOf }) => ({
      quantities,
      graphs,
      fits,
      analysis,
      state,
      symbolOf,
      plainSymbolOf,
    }),
  );
  const change = (part: Partial<Ingredient>) => onChange({ ...i, ...part });
  const fitNames = fits.map((f) => {
    const graph = graphs.find((g) => g.id === f.graph);
    const card = analysis.fits.find((c) => c.fit === f.id);
    const axes = graph ? `${plainSymbolOf(f.y || graph.y)} against ${plainSymbolOf(graph.x)}` : f.id;
    return { value: f.id, label: fits.length > 1 && card?.name ? `${axes}, ${card.name}` : axes };
  });
  const first = (kind: Kind) => {
    if (FIT_KINDS.includes(kind)) return fits[0]?.id ?? '';
    if (kind === 'mean') return measuredIn(quantities)[0]?.id ?? '';
    return kind === 'finding' ? (state.document.findings[0]?.id ?? '') : (graphs[0]?.id ?? '');
  };
  const of = FIT_KINDS.includes(i.kind)
    ? fitNames
    : i.kind === 'mean'
      ? varyingIn(quantities).map((q) => ({ value: q.id, label: plainSymbolOf(q.id) }))
      : i.kind === 'finding'
        ? state.document.findings.map((f) => ({ value: f.id, label: f.name }))
        : graphs.map((g) => ({ value: g.id, label: `${plainSymbolOf(g.y)} against ${plainSymbolOf(g.x)}` }));
  const card = analysis.fits.find((c) => c.fit === i.of);
  const parts = card?.parameters.length ? card.parameters.map((p) => p.name) : ['gradient', 'intercept'];
  const unknowns = fits.find((f) => f.id === i.of)?.unknowns ?? [];
  const changed = quantities.find((q) => q.kind === 'changed');
  const graph = i.kind === 'summit' ? fits.find((f) => f.id === i.of)?.graph : i.of;
  const stretchOf = i.kind === 'mean' ? i.part || (changed?.id ?? '') : (graphs.find((g) => g.id === graph)?.x ?? '');
  return (
    <div className="row find-ingredient" role="group" aria-label={`What ${i.symbol || 'this'} is`}>
      <Exact
        size="small"
        className="field-short"
        aria-label="Its symbol in the formula"
        value={i.symbol}
        maxLength={30}
        onChange={(e) => change({ symbol: e.target.value })}
      />
      <span className="quiet">is</span>
      <SymbolSelect<Kind>
        size="small"
        aria-label="What kind of number it is"
        value={i.kind}
        options={KINDS}
        popupMatchSelectWidth={false}
        onChange={(kind) => onChange({ ...blank(kind, first(kind)), symbol: i.symbol })}
      />
      <SymbolSelect
        size="small"
        aria-label="Of what"
        value={i.of || undefined}
        placeholder="of …"
        options={of}
        popupMatchSelectWidth={false}
        onChange={(next: string) => change({ of: next, part: i.kind === 'steepest' || FARTHEST.includes(i.kind) ? i.part : '' })}
      />
      {i.kind === 'fit' && (
        <SymbolSelect
          size="small"
          aria-label="Which number of the fit"
          value={i.part || undefined}
          placeholder={`${word} …`}
          options={parts.map((p) => ({ value: p, label: p === 'gradient' ? word : p }))}
          popupMatchSelectWidth={false}
          onChange={(part: string) => change({ part })}
        />
      )}
      {i.kind === 'unknown' && (
        <SymbolSelect
          size="small"
          aria-label="Which unknown"
          value={i.part || undefined}
          placeholder="which"
          options={unknowns.map((u) => ({ value: u.id, label: u.name }))}
          popupMatchSelectWidth={false}
          onChange={(part: string) => change({ part })}
        />
      )}
      {(i.kind === 'read_forward' || i.kind === 'read_back' || i.kind === 'tangent') && (
        <Labelled words={i.kind === 'read_back' ? 'at y =' : 'at x ='}>
          <Exact size="small" className="field-short" value={i.at} maxLength={60} onChange={(e) => change({ at: e.target.value })} />
        </Labelled>
      )}
      {i.kind === 'read_back' && (
        <Labelled words="mean of">
          <InputNumber
            size="small"
            aria-label="How many readings it is the mean of"
            min={1}
            max={100}
            precision={0}
            value={i.repeats}
            className="field-tiny"
            onChange={(n) => change({ repeats: n ?? 1 })}
          />
        </Labelled>
      )}
      {FARTHEST.includes(i.kind) && (
        <SymbolSelect
          size="small"
          aria-label="Its value or its place"
          value={i.part || 'value'}
          options={[
            { value: 'value', label: 'its value' },
            { value: 'place', label: 'its place' },
          ]}
          popupMatchSelectWidth={false}
          onChange={(part: string) => change({ part })}
        />
      )}
      {i.kind === 'steepest' && (
        <>
          <SymbolSelect
            size="small"
            aria-label="Which number of the steepest point"
            value={i.part || 'place'}
            options={[
              { value: 'place', label: 'its place' },
              { value: 'rate', label: 'how steep it is there' },
              { value: 'reading', label: 'the reading at a fraction of its place' },
            ]}
            popupMatchSelectWidth={false}
            onChange={(part: string) => change({ part })}
          />
          {i.part === 'reading' && (
            <Exact
              size="small"
              className="field-tiny"
              aria-label="At which fraction of the place"
              value={i.at}
              onChange={(e) => change({ at: e.target.value })}
            />
          )}
        </>
      )}
      {i.kind === 'mean' && state.document.runs.length > 1 && (
        <SymbolSelect
          size="small"
          aria-label="Of which run"
          value={i.run}
          options={[{ value: '', label: 'the run you look at' }, ...state.document.runs.map((r) => ({ value: r.id, label: r.name }))]}
          popupMatchSelectWidth={false}
          onChange={(run: string) => change({ run })}
        />
      )}
      {i.kind === 'mean' && (
        <Labelled words="over">
          <SymbolSelect
            size="small"
            aria-label="Over a stretch of what"
            value={stretchOf}
            options={varyingIn(quantities).map((q) => ({ value: q.id, label: plainSymbolOf(q.id) }))}
            popupMatchSelectWidth={false}
            onChange={(part: string) => change({ part: part === changed?.id ? '' : part, low: null, high: null })}
          />
        </Labelled>
      )}
      {STRETCHES.includes(i.kind) && (
        <>
          <End
            words={`from ${symbolOf(stretchOf)
              .map((r) => r.text)
              .join('')} =`}
            value={i.low ?? null}
            placeholder="start"
            onChange={(low) => change({ low })}
          />
          <End words="to" value={i.high ?? null} placeholder="end" onChange={(high) => change({ high })} />
        </>
      )}
      <Button size="small" type="text" aria-label={`Leave ${i.symbol} out`} onClick={onRemove}>
        leave out
      </Button>
    </div>
  );
}
