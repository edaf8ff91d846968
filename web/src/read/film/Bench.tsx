// What is measured on: the frame, the loupe, what is pointed at next, and what follows from it.
import { Button, Segmented } from 'antd';
import { type KeyboardEvent, useRef, useState } from 'react';
import { useBook, useBookStore } from '@/shared/book/context';
import { sendPictures } from '@/shared/pictures/sendPictures';
import { useSend } from '@/shared/form/useSend';
import { TroubleWords } from '@/shared/ui/TroubleWords';
import { told } from '@/shared/ui/told';
import { AxesTool } from './AxesTool';
import { DrawTool } from './DrawTool';
import { FrameView } from './FrameView';
import { Loupe } from './Loupe';
import { MarkTool } from './MarkTool';
import { ModelChoice } from './ModelChoice';
import { Positions } from './Positions';
import { ScaleTool } from './ScaleTool';
import type { Frames } from './frames';
import { drawKept } from './keepFrame';
import { type DrawnKind, type Place, type Tool, type Work, markAt, snapTo, withCorner, withEnd, withMark, withoutMark } from './marks';
import { useModel } from './useModel';
import { useMeasured, useWork } from './useWork';

const TOOLS: readonly Tool[] = ['scale', 'axes', 'mark', 'draw'];
const STEPS = [10, 1, 0.1];
const ARROWS: Readonly<Record<string, readonly [number, number]>> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };

/** What is still to be pointed at, in the order in which it is needed. */
function nextTool(work: Work): Tool {
  if (work.ends.length < 2) return 'scale';
  return work.origin ? 'mark' : 'axes';
}

export function Bench({ frames }: { frames: Frames }) {
  const { book, canEdit } = useBook(({ state }) => ({ book: state.id, canEdit: state.can_edit }));
  const store = useBookStore();
  const { work, change } = useWork(frames);
  const { view, trouble: typed, away } = useMeasured(work, frames.times);
  const over = useModel(work, view, frames.times);
  const [tool, setTool] = useState<Tool>(() => nextTool(work));
  const [index, setIndex] = useState(() => Math.max(work.start, ...work.marks.map((m) => m.frame)));
  const [shown, setShown] = useState(-1);
  const [at, setAt] = useState<Place>({ x: frames.width / 2, y: frames.height / 2 });
  const [aim, setAim] = useState<Place | null>(null);
  const [step, setStep] = useState(1);
  const [chosen, setThing] = useState('');
  const [turn, setTurn] = useState(0);
  const [turning, setTurning] = useState(false);
  const [pivoting, setPivoting] = useState(false);
  const [kind, setKind] = useState<DrawnKind>('length');
  const [goesOn, setGoesOn] = useState(true);
  const [said, setSaid] = useState('');
  const [trouble, setTrouble] = useState('');
  const [notSent, send, sending] = useSend();
  const canvas = useRef<HTMLCanvasElement>(null);
  const thing = work.things.some((t) => t.id === chosen) ? chosen : (work.things[0]?.id ?? '');
  const place = `frame ${index + 1} of ${frames.count}`;

  const goTo = (to: number) => {
    const next = Math.min(Math.max(to, 0), frames.count - 1);
    setIndex(next);
    const mark = tool === 'mark' ? markAt(work, thing, next, turn) : undefined;
    if (mark) setAt(mark.place);
    setSaid(`Frame ${next + 1}${mark ? ', marked' : ''}`);
  };
  const pointAt = (to: Place) => {
    // what is not shown yet cannot be pointed at
    if (shown !== index) return;
    setAt(to);
    if (tool === 'scale') change((w) => withEnd(w, to));
    else if (tool === 'axes') {
      if (turning && work.origin) change((w) => ({ ...w, along: to }));
      else change((w) => ({ ...w, origin: to }));
      if (work.origin) setTurning(false);
    } else if (tool === 'draw') change((w) => withCorner(w, kind, to));
    else if (pivoting) {
      change((w) => ({ ...w, things: w.things.map((t) => (t.id === thing ? { ...t, pivot: to } : t)) }));
      setPivoting(false);
    } else {
      change((w) => withMark(w, { thing, frame: index, turn, place: to }));
      if (goesOn && index + work.step < frames.count) goTo(index + work.step);
    }
    setSaid(`Pointed at ${to.x.toFixed(1)}, ${to.y.toFixed(1)}`);
  };
  const move = (by: readonly [number, number], size: number) => {
    const to = snapTo({ x: at.x + by[0] * size, y: at.y + by[1] * size }, frames.width, frames.height);
    setAt(to);
    setAim(null);
    setSaid(`${to.x.toFixed(1)}, ${to.y.toFixed(1)}`);
  };
  const press = (e: KeyboardEvent) => {
    if (e.altKey || e.ctrlKey || e.metaKey) return;
    const arrow = ARROWS[e.key];
    const acts: Record<string, () => void> = {
      Enter: () => pointAt(at),
      n: () => goTo(index + work.step),
      b: () => goTo(index - work.step),
      Home: () => goTo(0),
      End: () => goTo(frames.count - 1),
      z: () => {
        const next = STEPS[(STEPS.indexOf(step) + 1) % STEPS.length] ?? 1;
        setStep(next);
        setSaid(`Arrow keys move by ${next} pixels`);
      },
      Delete: () => change((w) => withoutMark(w, thing, index, turn)),
      ...Object.fromEntries(TOOLS.map((of, i) => [String(i + 1), () => setTool(of)])),
      a: () => setSaid(`${place}. The cross is at ${at.x.toFixed(1)}, ${at.y.toFixed(1)}. ${told(view?.scale ? [view.scale] : [])}`),
    };
    const act = arrow ? () => move(arrow, e.shiftKey ? step / 10 : step) : acts[e.key.length === 1 ? e.key.toLowerCase() : e.key];
    if (!act) return;
    e.preventDefault();
    e.stopPropagation();
    act();
  };
  const keep = () =>
    send(async () => {
      const drawing = canvas.current?.parentElement?.querySelector('svg');
      if (!canvas.current || !drawing) return;
      const [picture] = await sendPictures([await drawKept(canvas.current, drawing)], '/api/books/{book_id}/pictures', book);
      if (!picture) return;
      const marked = work.things.filter((t) => work.marks.some((m) => m.thing === t.id)).map((t) => t.name);
      const caption = frames.count > 1 ? `Frame ${index + 1} of ${frames.name}` : frames.name;
      const alt = `${caption}${marked.length ? `, with the places of ${marked.join(' and ')} marked` : ''}${work.origin ? ', and the axes' : ''}.`;
      store.edit({ type: 'add_report_picture', picture: { ...picture, data: '', caption, alt } }, 'The frame is in your report now.');
    });
  const turnTo = (to: number) => {
    setTurn(to);
    const first = Math.min(...work.marks.filter((m) => m.thing === thing).map((m) => m.frame));
    if (Number.isFinite(first)) setIndex(first);
  };

  const shared = { work, change };
  const count = work.marks.length;
  return (
    <div className="film-bench">
      <div className="film-left">
        <FrameView
          frames={frames}
          index={index}
          work={work}
          turn={turn}
          at={at}
          model={over.at(index)}
          label={`${frames.name}, ${place}. Arrow keys move the cross, Enter points, N and B step`}
          canvas={canvas}
          onShown={setShown}
          onTrouble={setTrouble}
          onAim={setAim}
          onMove={(to) => {
            setAt(to);
            setAim(null);
          }}
          onPoint={pointAt}
          onKey={press}
        />
        <TroubleWords>{trouble}</TroubleWords>
        <div className="film-bar">
          {frames.count > 1 && (
            <>
              <Button size="small" aria-label="The first frame" disabled={index === 0} onClick={() => goTo(0)}>
                ⇤
              </Button>
              <Button size="small" disabled={index === 0} onClick={() => goTo(index - work.step)}>
                ← before <kbd>B</kbd>
              </Button>
              <span className="mono film-place">
                {index + 1} of {frames.count}
                {frames.times && <span className="quiet"> {(frames.times[index] ?? 0).toFixed(3)} s</span>}
              </span>
              <Button size="small" disabled={index === frames.count - 1} onClick={() => goTo(index + work.step)}>
                next <kbd>N</kbd> →
              </Button>
              <Button size="small" aria-label="The last frame" disabled={index === frames.count - 1} onClick={() => goTo(frames.count - 1)}>
                ⇥
              </Button>
            </>
          )}
          {canEdit && (
            <Button size="small" className="film-keep" loading={sending} disabled={shown !== index} onClick={keep}>
              Keep for the report
            </Button>
          )}
        </div>
        <TroubleWords>{notSent.words}</TroubleWords>
      </div>
      <div className="film-right">
        <div className="film-aim">
          <Loupe canvas={canvas} at={aim ?? at} drawn={`${shown}`} onDrag={(by) => move(by, 1)} />
          <div>
            <span className="mono">
              {(aim ?? at).x.toFixed(1)}, {(aim ?? at).y.toFixed(1)} px
            </span>
            <Button size="small" type="primary" disabled={shown !== index} onClick={() => pointAt(at)}>
              Point here <kbd>Enter</kbd>
            </Button>
            <span className="quiet film-hint">
              <span className="film-drag">Drag in the loupe to move finely. </span>
              Arrows move by {step} px <kbd>Z</kbd>, with <kbd>Shift</kbd> by a tenth of that.
            </span>
          </div>
        </div>
        <Segmented<Tool>
          block
          size="small"
          aria-label="What is pointed at"
          value={tool}
          options={[
            { value: 'scale', label: work.ends.length === 2 && view?.per_pixel ? 'Scale ✓' : 'Scale' },
            { value: 'axes', label: work.origin ? 'Axes ✓' : 'Axes' },
            { value: 'mark', label: count ? `Follow ${count}` : 'Follow' },
            { value: 'draw', label: 'Measure' },
          ]}
          onChange={setTool}
        />
        <div className="film-tool">
          {tool === 'scale' && <ScaleTool {...shared} said={told(view?.scale ? [view.scale] : [])} />}
          {tool === 'axes' && <AxesTool {...shared} frame={index} timed={frames.times !== null} turning={turning} onTurning={setTurning} />}
          {tool === 'mark' && (
            <MarkTool
              {...shared}
              thing={thing}
              onThing={setThing}
              turn={turn}
              onTurn={turnTo}
              frame={index}
              pivoting={pivoting}
              onPivoting={setPivoting}
              said={told(view ? [view.pointing] : [])}
              goesOn={goesOn}
              onGoesOn={setGoesOn}
            />
          )}
          {tool === 'mark' && <ModelChoice over={over} />}
          {tool === 'draw' && <DrawTool {...shared} kind={kind} onKind={setKind} view={view} onSaid={setSaid} />}
          {typed && <p className="notice">{typed}</p>}
          {away && <p className="notice">The server cannot be reached. Go on pointing: what follows is worked out when it is back.</p>}
        </div>
      </div>
      {count > 0 && <Positions work={work} times={frames.times} view={view} thing={thing} onSaid={setSaid} />}
      <p className="hidden-but-heard" role="status">
        {said}
      </p>
    </div>
  );
}
