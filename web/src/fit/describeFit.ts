// What is chosen of a fit, in a few words.
import type { Schemas } from '@/shared/api/client';

const WEIGHTS: Record<Schemas['Fit']['weights'], string> = {
  both_bars: 'counting both bars',
  y_bars: 'counting the bars in y',
  none: 'all points the same',
};

export function describeFit(fit: Schemas['Fit'], card: Schemas['FitResult'] | undefined): (string | false)[] {
  const named = fit.shape === 'steps' ? 'step by step' : 'formula of one’s own';
  const shape = card?.shapes.find((s) => s.shape === fit.shape)?.words.split(',')[0] ?? named;
  const ends = [fit.low, fit.high].map((end) => (end === null || end === undefined ? '' : String(Number(end.toPrecision(4)))));
  return [
    shape.charAt(0).toLowerCase() + shape.slice(1),
    WEIGHTS[fit.weights],
    fit.shape === 'line' && fit.through_origin && 'through the origin',
    fit.hidden && 'not drawn',
    (ends[0] || ends[1]) && `x ${ends[0] && `from ${ends[0]}`} ${ends[1] && `to ${ends[1]}`}`,
  ].map((words) => words || false);
}
