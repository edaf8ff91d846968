// Which fits are laid over the film.
import { Labelled } from '@/shared/ui/Labelled';
import { SymbolSelect } from '@/shared/ui/SymbolSelect';
import type { LaidOver } from './useModel';

export function ModelChoice({ over }: { over: LaidOver }) {
  if (!over.models.length) return null;
  const options = [{ value: '', label: 'nothing' }, ...over.models.map(({ graph, label }) => ({ value: graph, label }))];
  return (
    <div className="film-fields" role="group" aria-label="What is fitted, over the film">
      {(['x', 'y'] as const).map((axis) => (
        <Labelled key={axis} words={`Laid over it along ${axis}:`}>
          <SymbolSelect
            size="small"
            value={over.along[axis]}
            options={options}
            popupMatchSelectWidth={false}
            onChange={(graph) => over.onAlong({ ...over.along, [axis]: graph })}
          />
        </Labelled>
      ))}
    </div>
  );
}
