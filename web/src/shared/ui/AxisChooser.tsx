// Which quantity is on which axis of a graph, chosen beside the graph; one change, one edit.
import { Checkbox } from 'antd';
import type { Schemas } from '@/shared/api/client';
import { useBook } from '@/shared/book/context';
import { useAxes } from '@/shared/book/useAxes';
import { SymbolSelect } from './SymbolSelect';

export function AxisChooser({ graph, origin = true }: { graph: Schemas['Graph']; origin?: boolean }) {
  const { state } = useBook(({ state }) => ({ state }));
  const { options, place, kinds } = useAxes(graph);
  return (
    <div className="row axis-chooser">
      <SymbolSelect
        aria-label="Quantity on the y axis"
        value={graph.y}
        options={options}
        disabled={!state.can_edit}
        onChange={(y: string) => place({ y })}
        popupMatchSelectWidth={false}
      />
      <span className="quiet">against</span>
      <SymbolSelect
        aria-label="Quantity on the x axis"
        value={graph.x}
        options={options}
        disabled={!state.can_edit}
        onChange={(x: string) => place({ x })}
        popupMatchSelectWidth={false}
      />
      {(['x', 'y'] as const)
        .filter((axis) => axis === 'y' || !kinds)
        .map((axis) => (
          <Checkbox
            key={axis}
            checked={graph[`${axis}_log`]}
            disabled={!state.can_edit}
            onChange={(e) => place({ [`${axis}_log`]: e.target.checked, [`${axis}_low`]: null, [`${axis}_high`]: null })}
          >
            logarithmic {axis}
          </Checkbox>
        ))}
      {origin && !(graph.x_log && graph.y_log) && (
        <Checkbox checked={graph.origin} disabled={!state.can_edit} onChange={(e) => place({ origin: e.target.checked })}>
          show the origin
        </Checkbox>
      )}
    </div>
  );
}
