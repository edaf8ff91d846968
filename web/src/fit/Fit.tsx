// Fit: the graph large with what is fitted and the residual strip, the card of it, a line by eye, and marked stretches.
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import type { Schemas } from '@/shared/api/client';
import { choiceOf, pinNote, placeFit } from '@/shared/book/choices';
import { RunNames } from '@/shared/book/RunNames';
import { useBook, useBookStore, useDecimalMark } from '@/shared/book/context';
import { newId } from '@/shared/book/newId';
import { cellKey } from '@/shared/book/rows';
import type { Stretch } from '@/shared/graph/MarkArea';
import { valueAt } from '@/shared/graph/plot';
import { StretchBar } from '@/shared/graph/StretchBar';
import { Steepest } from '@/shared/graph/Steepest';
import { useGraphEdits } from '@/shared/graph/useGraphEdits';
import { AxisChooser } from '@/shared/ui/AxisChooser';
import { ChoiceLine } from '@/shared/ui/ChoiceLine';
import { NoteForm } from '@/shared/ui/NoteForm';
import { PictureLinks } from '@/shared/ui/PictureLinks';
import { isWorded, measuredIn } from '@/shared/book/quantities';
import { CurveCard } from './CurveCard';
import { EyeGraph } from './EyeGraph';
import { FitChoices } from './FitChoices';
import { describeFit } from './describeFit';
import { FitMore, FitTabs } from './FitTabs';
import { Gradients } from './Gradients';
import { LineCard } from './LineCard';
import { PointBar } from './PointBar';
import { ReadOff } from './ReadOff';
import { Unknowns } from './Unknowns';
import { StepModelSheet } from './steps/StepModelSheet';
import { useSuppose } from './steps/useSuppose';
import { useReadOff } from './useReadOff';
import { useWhatIf } from './useWhatIf';
import './fit.css';

/** The smallest x above zero of a run's points, as it is drawn. */
function firstAbove(figure: Schemas['Figure'] | null, run: string): number | null {
  const above = figure?.series.filter((s) => s.key.startsWith(`${run}:`)).flatMap((s) => s.points.filter((p) => !p.set_aside && p.x > 0).map((p) => p.x)) ?? [];
  return above.length > 0 ? Math.min(...above) : null;
}

export function Fit() {
  const { fits, graphs, quantities } = useBook(({ fits, graphs, quantities }) => ({ fits, graphs, quantities }));
  // in the address, so that it is the same one after a reload and for who follows a link
  const [address, setAddress] = useSearchParams();
  const setChosen = (of: string) => setAddress({ of }, { replace: true });
  const fit = fits.find((f) => f.id === address.get('of')) ?? fits[0];
  const graph = graphs.find((g) => g.id === fit?.graph);
  const onlyKinds = graphs.length > 0 && graphs.every((g) => isWorded(quantities.find((q) => q.id === g.x)));
  if (!fit || !graph)
    return (
      <>
        <h1 className="fit-none">Nothing is fitted yet</h1>
        <p className="notice">
          {onlyKinds
            ? 'Along x stand kinds, not numbers: no line goes through them. Compare two of them in Find.'
            : graphs.length > 0
              ? 'Nobody has asked for a line. You may fit one all the same.'
              : 'A line is fitted on a graph. Draw one first, in the station Look.'}
        </p>
        {!onlyKinds && <FitMore fit={null} onChoose={setChosen} />}
      </>
    );
  return <OneFit key={fit.id} fit={fit} graph={graph} onChoose={setChosen} />;
}

function OneFit({ fit, graph, onChoose }: { fit: Schemas['Fit']; graph: Schemas['Graph']; onChoose: (fit: string) => void }) {
  const { state, analysis, quantities, fits, run, plainSymbolOf } = useBook(({ state, analysis, quantities, fits, run, plainSymbolOf }) => ({
    state,
    analysis,
    quantities,
    fits,
    run,
    plainSymbolOf,
  }));
  const store = useBookStore();
  const mark = useDecimalMark();
  const [marked, setMarked] = useState<Stretch | null>(null);
  const [triangle, setTriangle] = useState<Schemas['RiseOverRun'] | null>(null);
  const [spot, setSpot] = useState<{ x: number; y: number } | null>(null);
  const [chosen, setChosen] = useState<string | null>(null);
  const card = analysis.fits.find((f) => f.fit === fit.id);
  const result = analysis.graphs.find((g) => g.graph === graph.id);
  const figure = result?.figure ?? null;
  const whatIf = useWhatIf(fit.id);
  const supposed = useSuppose(fit.id, card);
  const read = useReadOff(fit.id, figure);
  const edits = useGraphEdits(graph);
  const place = (part: Partial<Schemas['Fit']>) => store.edit(placeFit(fit, part));
  const axes = `${plainSymbolOf(fit.y || graph.y)} against ${plainSymbolOf(graph.x)}`;
  // in a formula of one's own x is called what it is, where formulas can
  const xSymbol = quantities.find((q) => q.id === graph.x)?.symbol ?? '';
  const head = (
    <ChoiceLine
      title={{ line: 'The line', steps: 'The model' }[fit.shape] ?? 'The curve'}
      words={[axes, ...describeFit(fit, card, figure, mark)]}
      beside={
        <>
          <FitTabs fit={fit} onChoose={onChoose} />
          <RunNames />
        </>
      }
    >
      <AxisChooser graph={graph} />
      {card && (
        <FitChoices
          fit={fit}
          card={card}
          x={plainSymbolOf(graph.x)}
          xName={/^\w+$/.test(xSymbol) ? xSymbol : 'x'}
          y={plainSymbolOf(fit.y || graph.y)}
          firstAbove={firstAbove(figure, fit.run || run)}
          editable={state.can_edit}
          onPlace={place}
        />
      )}
      <FitMore fit={fit} onChoose={onChoose} />
    </ChoiceLine>
  );
  if (!figure || !card)
    return (
      <>
        {head}
        <p className="notice">{result?.trouble?.message}</p>
      </>
    );
  // of one among several tables, which need not be the one that is looked at
  const series = figure.series.find((s) => s.key === `${fit.run || run}:${fit.y || graph.y}`)?.key ?? figure.series[0]?.key ?? '';
  const measured = measuredIn(quantities)[0]?.id ?? '';
  // the axes stay as they are, or a point would slip from under the finger that lifts it
  const trial = supposed.shown ?? whatIf.shown;
  const tried = trial?.graph.figure;
  const shown = tried ? { ...tried, x_axis: figure.x_axis, y_axis: figure.y_axis } : figure;
  const shownCard = trial?.card ?? card;
  const point = figure.series.find((s) => s.key === series)?.points.find((p) => p.key === chosen);
  const fitToo = (stretch: Stretch) => {
    const id = newId('f');
    const choice = choiceOf(fit, {
      low: stretch.low,
      high: stretch.high,
      by_eye: null,
      steepest_by_eye: null,
      shallowest_by_eye: null,
      unknowns: [],
    });
    store.edit({ type: 'add_fit', fit: id, graph: graph.id, choice });
    onChoose(id);
  };
  const pin = (text: string, to: Parameters<typeof pinNote>[2]) => store.edit(pinNote(graph, text, to));
  return (
    <>
      {head}
      <div className="fit">
        <div className="card fit-graph">
          <EyeGraph
            of={graph}
            fit={fit}
            kept={figure}
            // between axes of which one is logarithmic a straight line is a curve, which no ruler draws
            onPlace={state.can_edit && !figure.x_axis.log && !figure.y_axis.log ? place : null}
            figure={shown}
            height={380}
            selected={chosen}
            onSelect={setChosen}
            onLift={whatIf.lift}
            lifts={series}
            marked={marked}
            onMark={setMarked}
            triangle={triangle}
            spot={spot}
            readOff={card.trouble ? undefined : (read.under ?? read.kept[0])}
            onCursor={card.trouble ? undefined : read.point}
            onPick={card.trouble ? undefined : read.pick}
            {...edits}
          />
          {point && (
            <PointBar
              point={point}
              whatIf={whatIf}
              onReadings={() => store.goTo(cellKey(point.key, measured, 0))}
              onPin={state.can_edit ? (text) => pin(text, { anchor: 'point', of: point.key }) : null}
              onClose={() => {
                whatIf.leaveOut(null);
                setChosen(null);
              }}
            />
          )}
          {marked && (
            <StretchBar
              graph={graph.id}
              fit={card.trouble ? '' : fit.id}
              series={figure.series}
              stretch={marked}
              onFit={state.can_edit ? () => place({ low: marked.low, high: marked.high }) : null}
              onFitToo={state.can_edit ? () => fitToo(marked) : null}
              onPin={state.can_edit ? (text) => pin(text, { anchor: 'stretch', x: marked.low, x_high: marked.high }) : null}
              onTriangle={setTriangle}
              onClose={() => setMarked(null)}
            />
          )}
          {!card.trouble && <ReadOff fit={fit.id} figure={figure} line={card.shape === 'line'} read={read} />}
          {!card.trouble && <Unknowns fit={fit} card={card} figure={figure} editable={state.can_edit} onPlace={place} />}
          <Steepest graph={graph.id} onSpot={setSpot} />
          {state.can_edit && !card.trouble && (
            <div className="graph-more">
              <NoteForm
                about={fit.id}
                words={fit.shape === 'line' ? 'Pin a note to the line' : 'Pin a note to the curve'}
                onPin={(text) => pin(text, { anchor: 'fit', of: fit.id, x: valueAt(figure.x_axis, 0.75), right: -0.06, up: 0.14 })}
              />
            </div>
          )}
        </div>
        <div className={trial ? 'what-if' : undefined}>
          {whatIf.shown && <p className="notice">What if: with a point {whatIf.lifted ? 'lifted' : 'left out'}. Nothing has been changed.</p>}
          {supposed.words && <p className="notice">{supposed.words} Let go, and the model keeps it.</p>}
          {shownCard.trouble ? (
            <p className="notice">{shownCard.trouble.message}</p>
          ) : shownCard.shape === 'line' ? (
            <LineCard card={shownCard} far={analysis.slips.filter((s) => s.kind === 'off_trend')} onChoose={setChosen} />
          ) : (
            <CurveCard card={shownCard} fit={fit} onPlace={state.can_edit ? place : null} />
          )}
        </div>
      </div>
      {fit.shape === 'steps' && (
        <StepModelSheet
          fit={fit}
          card={card}
          x={plainSymbolOf(graph.x)}
          unit={quantities.find((q) => q.id === graph.x)?.unit ?? ''}
          editable={state.can_edit}
          onModel={(steps) => place({ steps })}
          onSuppose={supposed.suppose}
        />
      )}
      {fits.filter((f) => f.graph === graph.id).length > 1 && <Gradients graph={graph.id} />}
      <PictureLinks graph={graph.id} fitted />
    </>
  );
}
