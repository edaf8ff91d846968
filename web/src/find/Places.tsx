// Where in its own readings a bench takes the numbers of a finding that the plan asks for: the ends of a stretch, the place of a read-off.
import type { Schemas } from '@/shared/api/client';
import { changeFinding } from '@/shared/book/choices';
import { useBook, useBookStore } from '@/shared/book/context';
import { Labelled } from '@/shared/ui/Labelled';
import { plain, Rich } from '@/shared/ui/Rich';
import { End } from './End';
import { type Ingredient, STRETCHES } from './ingredients';
import { Exact } from '@/shared/ui/Exact';
import { useTyped } from '@/shared/ui/useTyped';

const AT_A_PLACE = ['read_forward', 'read_back', 'tangent'];

export function Places({ finding, used }: { finding: Schemas['Finding']; used: Schemas['FindingResult']['used'] }) {
  const { graphs, fits, quantities, symbolOf, waiting } = useBook(({ graphs, fits, quantities, symbolOf, waiting }) => ({
    graphs,
    fits,
    quantities,
    symbolOf,
    waiting,
  }));
  const store = useBookStore();
  // with what is still on its way, so that two ends may be written one after the other
  const written = waiting.reduce<readonly Ingredient[]>(
    (uses, { edit }) => (edit.type === 'change_finding' && edit.finding === finding.id && 'uses' in edit.becomes ? edit.becomes.uses : uses),
    finding.uses,
  );
  const typed = useTyped(written, JSON.stringify);
  const uses = typed.now;
  const placed = uses.filter((i) => STRETCHES.includes(i.kind) || AT_A_PLACE.includes(i.kind));
  if (!placed.length) return null;
  // as it is typeset, once there is a number
  const typeset = (i: Ingredient) => used.find((u) => u.name === i.symbol)?.symbol;
  const graphOf = (i: Ingredient) => graphs.find((g) => g.id === i.of || g.id === fits.find((f) => f.id === i.of)?.graph);
  const along = (i: Ingredient) => {
    const changed = quantities.find((q) => q.kind === 'changed')?.id ?? '';
    if (i.kind === 'mean') return i.part || changed;
    return (i.kind === 'read_back' ? graphOf(i)?.y : graphOf(i)?.x) ?? changed;
  };
  // a field begins anew when what is written of it has changed
  const at = (i: Ingredient) => written.find((w) => w.symbol === i.symbol);
  const change = (of: Ingredient, part: Partial<Ingredient>) => typed.type(uses.map((i) => (i === of ? { ...i, ...part } : i)));
  const keep = () => {
    if (!typed.typing) return;
    if (JSON.stringify(uses) !== JSON.stringify(typed.was)) store.edit(changeFinding({ ...finding, uses: [...typed.was] }, { uses: [...uses] }));
    typed.forget();
  };
  return (
    <div className="find-places" onBlur={keep}>
      <p className="quiet">Taken in your readings</p>
      {placed.map((i) => (
        <div className="row" key={i.symbol} role="group" aria-label={`Where ${i.symbol} is taken`}>
          <Rich text={typeset(i) ?? [{ text: i.symbol, style: 'plain' }]} />
          {STRETCHES.includes(i.kind) ? (
            <>
              <End
                key={`from ${at(i)?.low}`}
                words={`from ${plain(symbolOf(along(i)))} =`}
                value={i.low ?? null}
                placeholder="start"
                onChange={(low) => change(i, { low })}
              />
              <End key={`to ${at(i)?.high}`} words="to" value={i.high ?? null} placeholder="end" onChange={(high) => change(i, { high })} />
            </>
          ) : (
            <Labelled words={`at ${plain(symbolOf(along(i)))} =`}>
              <Exact size="small" className="field-short" value={i.at} maxLength={60} onChange={(e) => change(i, { at: e.target.value })} />
            </Labelled>
          )}
        </div>
      ))}
    </div>
  );
}
