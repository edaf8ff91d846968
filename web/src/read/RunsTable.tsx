// A table of the runs: a row for each, with what was set for it and a result of it, to be plotted and fitted in turn.
import { Button, Input } from 'antd';
import { useState } from 'react';
import type { Edit } from '@/shared/api/client';
import { useBook, useSlopeWord } from '@/shared/book/context';
import { useSubmit } from '@/shared/book/useSubmit';
import { newId } from '@/shared/book/newId';
import { varyingIn } from '@/shared/book/quantities';
import { Labelled } from '@/shared/ui/Labelled';
import { TroubleWords } from '@/shared/ui/TroubleWords';
import { SymbolSelect } from '@/shared/ui/SymbolSelect';
import { Exact } from '@/shared/ui/Exact';

type RunsTableEdit = Extract<Edit, { type: 'add_runs_table' }>;

/** `onDone`: with what was kept, or nothing where it was left. */
export function RunsTable({ onDone }: { onDone: (edit: RunsTableEdit | null) => void }) {
  const { submit, busy, refusal } = useSubmit();
  const { state, graphs, fits, quantities, analysis, plainSymbolOf } = useBook(({ state, graphs, fits, quantities, analysis, plainSymbolOf }) => ({
    state,
    graphs,
    fits,
    quantities,
    analysis,
    plainSymbolOf,
  }));
  const word = useSlopeWord();
  const results = [
    ...fits.flatMap((f) => {
      const graph = graphs.find((g) => g.id === f.graph);
      const names = analysis.fits.find((c) => c.fit === f.id)?.parameters.map((p) => p.name) ?? [];
      const axes = graph ? `${plainSymbolOf(f.y || graph.y)} against ${plainSymbolOf(graph.x)}` : '';
      return (names.length ? names : ['gradient', 'intercept']).map((part) => ({
        result: { kind: 'fit' as const, of: f.id, part },
        words: `${part === 'gradient' ? word : part} of ${axes}`,
        symbol: part === 'gradient' ? 'k' : part === 'intercept' ? 'c' : part,
      }));
    }),
    ...varyingIn(quantities)
      .filter((q) => q.kind !== 'changed')
      .map((q) => ({ result: { kind: 'mean' as const, of: q.id, part: '' }, words: `mean of ${plainSymbolOf(q.id)}`, symbol: `${q.symbol.split('_')[0]}_m` })),
  ];
  const [chosen, setChosen] = useState(0);
  const [symbol, setSymbol] = useState<string | null>(null);
  const [heading, setHeading] = useState('');
  const taken = new Set(quantities.map((q) => q.symbol));
  const suggested = results[chosen]?.symbol ?? 'k';
  const free = [suggested, ...Array.from({ length: 40 }, (_, i) => `${suggested.split('_')[0]}_${i + 2}`)].find((s) => !taken.has(s)) ?? '';
  const of = results[chosen];
  return (
    <form
      className="row run-naming"
      aria-label="A table of the runs"
      onSubmit={(e) => {
        e.preventDefault();
        if (!of || !heading.trim()) return;
        const names = new Set(state.document.runs.map((r) => r.name.toLowerCase()));
        const name = ['Table of runs', ...Array.from({ length: 30 }, (_, i) => `Table of runs ${i + 2}`)].find((n) => !names.has(n.toLowerCase()));
        const edit: RunsTableEdit = {
          type: 'add_runs_table',
          run: newId('r'),
          name: name ?? newId('t'),
          set: newId('q'),
          heading: heading.trim(),
          label: newId('q'),
          quantity: newId('q'),
          called: of.words,
          symbol: (symbol ?? free).trim(),
          result: of.result,
          graph: newId('g'),
          fit: newId('f'),
        };
        submit(edit, () => onDone(edit));
      }}
      onKeyDown={(e) => {
        if (e.key === 'Escape') onDone(null);
      }}
    >
      <Labelled words="A row for each run, with its">
        <SymbolSelect
          aria-label="Which result of each run"
          value={chosen}
          options={results.map((r, i) => ({ value: i, label: r.words }))}
          popupMatchSelectWidth={false}
          onChange={setChosen}
        />
      </Labelled>
      <Labelled words="called">
        <Exact className="run-symbol" maxLength={30} value={symbol ?? free} onChange={(e) => setSymbol(e.target.value)} />
      </Labelled>
      <Labelled words="against">
        <Input autoFocus value={heading} maxLength={120} placeholder="mass m / kg" onChange={(e) => setHeading(e.target.value)} />
      </Labelled>
      <Button type="primary" htmlType="submit" loading={busy} disabled={!of || !heading.trim() || !(symbol ?? free).trim()}>
        Make the table
      </Button>
      <Button onClick={() => onDone(null)}>Leave it</Button>
      <TroubleWords beside>{refusal}</TroubleWords>
    </form>
  );
}
