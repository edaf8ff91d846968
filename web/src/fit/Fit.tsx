// Fit: the graph large with what is fitted and the residual strip, the card of it, a line by eye, and marked stretches.
import { useState } from 'react';
import type { Schemas } from '@/shared/api/client';
import { placeFit } from '@/shared/book/choices';
import { useBook, useBookStore } from '@/shared/book/context';
import { cellKey } from '@/shared/book/rows';
import { Graph } from '@/shared/graph/Graph';
import type { Stretch } from '@/shared/graph/MarkArea';
import { AxisChooser } from '@/shared/ui/AxisChooser';
import { ByEyeTools } from './ByEyeTools';
import { CurveCard } from './CurveCard';
import { FitChoices } from './FitChoices';
import { LineCard } from './LineCard';
import { PointBar } from './PointBar';
import { ReadOff } from './ReadOff';
import { StretchBar } from './StretchBar';
import { useByEye } from './useByEye';
import { useWhatIf } from './useWhatIf';
import './fit.css';

export function Fit() {
  const { state, analysis, quantities, fits, graphs } = useBook();
  const store = useBookStore();
  const [marked, setMarked] = useState<Stretch | null>(null);
  const fit = fits[0];
  const card = analysis.fits.find((f) => f.fit === fit?.id);
  const graph = graphs.find((g) => g.id === fit?.graph);
  const result = analysis.graphs.find((g) => g.graph === fit?.graph);
  const figure = result?.figure ?? null;
  const eye = useByEye(fit, figure);
  const whatIf = useWhatIf(fit?.id);
  const [chosen, setChosen] = useState<string | null>(null);
  if (!fit || !card || !graph) return <p className="notice">The plan of this practical has no line to fit.</p>;
  const head = (
    <div className="stage-head">
      <h1>{fit.shape === 'line' ? 'The line' : 'The curve'}</h1>
      <AxisChooser graph={graph} />
    </div>
  );
  if (!figure)
    return (
      <>
        {head}
        <p className="notice">{result?.trouble?.message}</p>
      </>
    );
  const measured = quantities.find((q) => q.kind === 'measured')?.id ?? '';
  // the axes stay as they are, or a point would slip from under the finger that lifts it
  const tried = whatIf.shown?.graph.figure;
  const shown = tried ? { ...tried, x_axis: figure.x_axis, y_axis: figure.y_axis } : figure;
  const shownCard = whatIf.shown?.card ?? card;
  const point = figure.series.flatMap((s) => s.points).find((p) => p.key === chosen);
  const place = (part: Partial<Schemas['Fit']>) => store.edit(placeFit(fit, part));
  return (
    <>
      {head}
      <FitChoices fit={fit} card={card} editable={state.can_edit} onPlace={place} />
      <div className="fit">
        <div className="card fit-graph">
          <Graph figure={eye.drawing ? withoutEyeLine(shown) : shown} height={380} selected={chosen} onSelect={setChosen} onLift={whatIf.lift} eye={eye.graph} marked={marked} onMark={setMarked} />
          {point && (
            <PointBar
              point={point}
              whatIf={whatIf}
              onReadings={() => store.goTo(cellKey(point.key, measured, 0))}
              onClose={() => {
                whatIf.leaveOut(null);
                setChosen(null);
              }}
            />
          )}
          {marked && <StretchBar graph={graph.id} stretch={marked} onFit={state.can_edit ? () => place({ low: marked.low, high: marked.high }) : null} onClose={() => setMarked(null)} />}
          {state.can_edit && fit.shape === 'line' && <ByEyeTools fit={fit} eye={eye} onPlace={place} />}
          {!card.trouble && <ReadOff fit={fit.id} figure={figure} line={card.shape === 'line'} />}
          {result?.remarks.map((r) => (
            <p key={r} className="quiet fit-remark">
              {r}
            </p>
          ))}
        </div>
        <div className={whatIf.shown ? 'what-if' : undefined}>
          {whatIf.shown && <p className="notice">What if: with a point {whatIf.lifted ? 'lifted' : 'left out'}. Nothing has been changed.</p>}
          {shownCard.trouble ? <p className="notice">{shownCard.trouble.message}</p> : shownCard.shape === 'line' ? <LineCard card={shownCard} far={analysis.slips.filter((s) => s.kind === 'off_trend')} onChoose={setChosen} /> : <CurveCard card={shownCard} />}
        </div>
      </div>
    </>
  );
}

function withoutEyeLine(figure: Schemas['Figure']): Schemas['Figure'] {
  return { ...figure, lines: figure.lines.filter((l) => l.kind !== 'by_eye') };
}
