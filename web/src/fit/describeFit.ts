// What is chosen of a fit, in a few words.
import type { Schemas } from '@/shared/api/client';
import { type DecimalMark, writeShort } from '@/shared/book/decimalMark';

const WEIGHTS: Record<Schemas['Fit']['weights'], string> = {
  both_bars: 'counting both bars',
  y_bars: 'counting the bars in y',
  none: 'all points the same',
};

/** What is counted of what is asked for: bars that no point has are not. */
function weightsOf(fit: Schemas['Fit'], figure: Schemas['Figure'] | null): string {
  const points = figure?.series.flatMap((s) => s.points) ?? [];
  if (!points.length || fit.weights === 'none') return WEIGHTS[fit.weights];
  if (fit.weights === 'both_bars' && points.some((p) => p.ux > 0)) return WEIGHTS.both_bars;
  return points.some((p) => p.uy > 0) ? WEIGHTS.y_bars : WEIGHTS.none;
}

export function describeFit(
  fit: Schemas['Fit'],
  card: Schemas['FitResult'] | undefined,
  figure: Schemas['Figure'] | null,
  mark: DecimalMark,
): (string | false)[] {
  const named = fit.shape === 'steps' ? 'step by step' : 'formula of one’s own';
  const shape = card?.shapes.find((s) => s.shape === fit.shape)?.words.split(',')[0] ?? named;
  const ends = [fit.low, fit.high].map((end) => writeShort(end, 4, mark));
  return [
    shape.charAt(0).toLowerCase() + shape.slice(1),
    weightsOf(fit, figure),
    fit.shape === 'line' && fit.through_origin && 'through the origin',
    fit.hidden && 'not drawn',
    (ends[0] || ends[1]) && `x ${ends[0] && `from ${ends[0]}`} ${ends[1] && `to ${ends[1]}`}`,
  ].map((words) => words || false);
}
