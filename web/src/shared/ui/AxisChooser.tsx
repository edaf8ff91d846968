// Which quantity is on which axis of a graph, chosen beside the graph; one change, one edit.
import { Checkbox, Select } from 'antd';
import type { Schemas } from '@/shared/api/client';
import { placeGraph } from '@/shared/book/choices';
import { useBook, useBookStore } from '@/shared/book/context';
import { plain } from '@/shared/ui/Rich';

export function AxisChooser({ graph, origin = true }: { graph: Schemas['Graph']; origin?: boolean }) {
  const { analysis, quantities, state } = useBook();
  const store = useBookStore();
  const columns = analysis.runs[0]?.columns ?? [];
  const options = quantities
    .filter((q) => q.kind !== 'constant')
    .map((q) => {
      const column = columns.find((c) => c.quantity === q.id);
      const unit = column?.unit ? ` / ${/[/ ]/.test(column.unit) ? `(${column.unit})` : column.unit}` : '';
      return { value: q.id, label: `${column ? plain(column.symbol) : q.symbol}${unit}` };
    });
  const place = (part: Partial<Schemas['Graph']>) => {
    // another quantity is another range
    const freed = { ...('x' in part ? { x_low: null, x_high: null } : {}), ...('y' in part ? { y_low: null, y_high: null } : {}) };
    store.edit(placeGraph(graph, { ...part, ...freed }));
  };
  return (
    <div className="row axis-chooser">
      <Select aria-label="Quantity on the y axis" value={graph.y} options={options} disabled={!state.can_edit} onChange={(y: string) => place({ y })} popupMatchSelectWidth={false} />
      <span className="quiet">against</span>
      <Select aria-label="Quantity on the x axis" value={graph.x} options={options} disabled={!state.can_edit} onChange={(x: string) => place({ x })} popupMatchSelectWidth={false} />
      {origin && (
        <Checkbox checked={graph.origin} disabled={!state.can_edit} onChange={(e) => place({ origin: e.target.checked })}>
          show the origin
        </Checkbox>
      )}
    </div>
  );
}
