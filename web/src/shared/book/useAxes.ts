// The quantities that can stand on an axis, with their units, and putting one there.
import type { Schemas } from '@/shared/api/client';
import { plain } from '@/shared/ui/Rich';
import { placeGraph } from './choices';
import { drawableIn, isWorded } from './quantities';
import { useBook, useBookStore } from './context';

export function useAxes(graph: Schemas['Graph']) {
  const { analysis, quantities } = useBook(({ analysis, quantities }) => ({ analysis, quantities }));
  const store = useBookStore();
  const columns = analysis.runs[0]?.columns ?? [];
  const options = drawableIn(quantities).map((q) => {
    const column = columns.find((c) => c.quantity === q.id);
    const unit = column?.unit ? ` / ${/[/ ]/.test(column.unit) ? `(${column.unit})` : column.unit}` : '';
    return { value: q.id, label: `${column ? plain(column.symbol) : q.symbol}${unit}` };
  });
  const place = (chosen: Partial<Schemas['Graph']>) => {
    // what stands on the other axis already comes here, and what stood here goes there
    const crossed = (chosen.x ?? graph.x) === (chosen.y ?? graph.y);
    const part = crossed ? { x: graph.y, y: graph.x, x_log: graph.y_log, y_log: graph.x_log } : chosen;
    // another quantity is another range, and another unit for what stands beside it
    const freed = {
      ...('x' in part ? { x_low: null, x_high: null } : {}),
      ...('y' in part ? { y_low: null, y_high: null, also: [], hidden: [] } : {}),
    };
    store.edit(placeGraph(graph, { ...part, ...freed }));
  };
  const kinds = quantities.some((q) => q.id === graph.x && isWorded(q));
  return { options, place, kinds };
}
