// Colour and shape of a series that is alone on its graph, where there is no legend to choose them in.
import type { Schemas } from '@/shared/api/client';
import { LookChooser } from '@/shared/graph/LookChooser';
import { useGraphEdits } from '@/shared/graph/useGraphEdits';

export function DrawnAs({ graph, figure }: { graph: Schemas['Graph']; figure: Schemas['Figure'] | null | undefined }) {
  const { onLook } = useGraphEdits(graph);
  const [only, ...others] = figure?.series ?? [];
  if (!only || others.length > 0 || !onLook) return null;
  return (
    <span className="row look-alone">
      drawn as <LookChooser name={only.name} look={only.look} onChoose={(look) => onLook(only.key, look)} />
    </span>
  );
}
