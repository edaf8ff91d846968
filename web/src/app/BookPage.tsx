// A lab book: bar, trail, the chosen stage on its sheet, and the margin.
import { useQuery } from '@tanstack/react-query';
import { lazy, Suspense, useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { ErrorBoundary } from 'react-error-boundary';
import { Link, Navigate, useNavigate, useParams, useSearchParams } from 'react-router';
import { type Me, type StageName, client, get } from '@/shared/api/client';
import { BookProvider, HistoryContext, useBook, useBookStore } from '@/shared/book/context';
import { runKey } from '@/shared/api/early';
import { BookStore } from '@/shared/book/store';
import { Bar } from '@/shared/ui/Bar';
import { benchName } from '@/shared/ui/benchName';
import { WorkingContext } from '@/shared/ui/Number';
import { stageNames } from '@/shared/ui/MiniTrail';
import { leaveField } from '@/shared/ui/leaveField';
import { Sheet } from '@/shared/ui/Sheet';
import { useLights } from '@/shared/ui/lights';
import { useArrival } from '@/shared/ui/useArrival';
import { HandUp } from './HandUp';
import { HistorySheet } from './HistorySheet';
import { KeysSheet } from './KeysSheet';
import { Margin } from './Margin';
import { NotKept } from './NotKept';
import { ClosingWords, NotOpen, whyNotOpen } from './NotOpen';
import { Quietly } from './Quietly';
import { SavedWords } from './SavedWords';
import { Station } from './Station';
import { rememberStation, stationLeft } from './stationLeft';
import { order } from './stages';
import { Trail } from './Trail';
import { UndoBar } from './UndoBar';
import { usePegged } from './usePegged';
import { WorkingSheet } from './WorkingSheet';
import './book.css';

export function BookPage({ me }: { me: Me }) {
  const { book = '', stage = '' } = useParams();
  const loaded = useQuery({
    queryKey: ['book', book],
    queryFn: () => {
      // an address may name the run, for who comes because of something in it
      const wanted = new URLSearchParams(window.location.search).get('run');
      if (wanted) localStorage.setItem(runKey(Number(book)), wanted);
      const run = localStorage.getItem(runKey(Number(book))) ?? '';
      return get(client.GET('/api/books/{book_id}', { params: { path: { book_id: Number(book) }, query: { run } } }));
    },
    staleTime: Infinity,
    gcTime: 0,
  });
  const state = loaded.data;
  const store = useMemo(() => (state ? new BookStore(state, me.id) : null), [state, me.id]);
  if (loaded.isError) return <Quietly words={loaded.error.message} />;
  if (!store || !state) return <Quietly words="Opening the lab book" />;
  if (!order.includes(stage as StageName)) return <Navigate to={`/books/${book}/${stationLeft(me.id, state)}`} replace />;
  return (
    <BookProvider store={store}>
      <OpenBook me={me} stage={stage as StageName} />
    </BookProvider>
  );
}

// only teachers open plans
const PlanBody = lazy(() => import('./PlanBody').then((m) => ({ default: m.PlanBody })));

type SheetName = 'history' | 'keys' | 'not-kept' | null;

function OpenBook({ me, stage }: { me: Me; stage: StageName }) {
  const { state, goTo } = useBook(({ state, goTo }) => ({ state, goTo }));
  const store = useBookStore();
  const navigate = useNavigate();
  const [working, setWorking] = useState<string | null>(null);
  const [sheet, setSheet] = useState<SheetName>(null);
  const [marginOpen, setMarginOpen] = useState(() => window.innerWidth > 1100);
  const [pastOf, setPastOf] = useState('');
  const showHistory = useCallback((cell: string) => {
    setPastOf(cell);
    setSheet('history');
  }, []);

  useEffect(() => {
    if (goTo && Date.now() - goTo.turn < 500) void navigate(`/books/${state.id}/read`);
  }, [goTo, navigate, state.id]);

  const [asked, setAsked] = useSearchParams();
  const cell = asked.get('at');
  useEffect(() => {
    // who comes for a slip is led to it, once
    if (!cell) return;
    setAsked({}, { replace: true });
    store.goTo(cell);
  }, [cell, setAsked, store]);

  const { beside, peg } = usePegged(me.id, state.id, stage);
  useEffect(() => store.showOnlyTable(stage === 'read' && !beside), [beside, stage, store]);

  const isFirst = state.can_edit && state.opened !== null && !state.opened.includes(stage);
  useEffect(() => {
    // what is lost is sent again when somebody comes here the next time
    if (isFirst) void client.POST('/api/books/{book_id}/opened', { params: { path: { book_id: state.id } }, body: { stage } }).catch(() => undefined);
  }, [isFirst, stage, state.id]);

  useEffect(() => rememberStation('station', me.id, state.id, stage), [me.id, stage, state.id]);

  useLights();
  const page = useArrival(stage);
  const left = useRef<HTMLElement | null>(null);
  const notOpen = whyNotOpen(state, stage);
  const besideNotOpen = beside ? whyNotOpen(state, beside) : '';

  useEffect(() => {
    const press = (e: KeyboardEvent) => {
      const typing = e.target instanceof HTMLInputElement || e.target instanceof HTMLTextAreaElement;
      const number = /^Digit([1-9])$/.exec(e.code)?.[1];
      if (e.altKey && number) {
        e.preventDefault();
        const wanted = order[Number(number) - 1];
        if (!wanted) return;
        // who is there already goes on typing where they are; asked of the address, which a quick second key finds changed already
        const place = `/books/${state.id}/${wanted}`;
        if (`${window.location.pathname}${window.location.search}` === place) return;
        const here = document.activeElement;
        leaveField();
        void navigate(place);
        // a station that was not there yet is passed by, and the hand is where it was
        if (wanted !== stage) left.current = here instanceof HTMLElement && here !== document.body ? here : left.current;
        else if (left.current?.isConnected) left.current.focus();
      } else if ((e.ctrlKey || e.metaKey) && e.key.toLowerCase() === 'z' && state.can_edit) {
        // inside a field with unsent typing the browser's own undo comes first
        if (typing && e.target.dataset.dirty === 'yes') return;
        e.preventDefault();
        void store.step(e.shiftKey ? 'redo' : 'undo');
      } else if (e.key === '?' && !typing) setSheet('keys');
    };
    window.addEventListener('keydown', press);
    return () => window.removeEventListener('keydown', press);
  }, [navigate, stage, state.can_edit, state.id, store]);

  return (
    <HistoryContext value={showHistory}>
      <WorkingContext value={setWorking}>
        <div className="book">
          <a
            className="past-trail"
            href="#page"
            onClick={(e) => {
              e.preventDefault();
              document.getElementById('page')?.focus();
            }}
          >
            Past the trail, to the page
          </a>
          <Bar
            me={me}
            where={
              state.owner ? (
                <>
                  {state.plan !== null && 'Plan · '}
                  <b>{state.can_edit ? <Link to={`/books/${state.id}/ask`}>{state.document.title}</Link> : state.document.title}</b> · {state.names.join(', ')}
                </>
              ) : (
                <>
                  <span className="bar-class">{state.class_name} · </span>
                  <b>{state.document.title}</b>
                  <span className="bar-class">
                    {' '}
                    · <b>{benchName(state.bench, 'bench')}</b>
                  </span>
                </>
              )
            }
          >
            <HandUp />
            <SavedWords onHistory={() => showHistory('')} onNotKept={() => setSheet('not-kept')} />
          </Bar>
          <ErrorBoundary
            resetKeys={[state.revision]}
            fallback={<p className="notice">The trail has stopped; the mistake is ours. Alt+1 to Alt+9 still lead to the stations.</p>}
          >
            <Trail current={stage} beside={beside} onPeg={state.plan === null ? peg : null} />
          </ErrorBoundary>
          <NotWorkedOut />
          {state.plan !== null ? (
            <Suspense fallback={<Quietly words="Opening the plan" />}>
              <PlanBody planId={state.plan} stage={stage} page={page} />
            </Suspense>
          ) : (
            <div className={`book-body${marginOpen ? '' : ' folded'}${beside ? ' paired' : ''}`}>
              <main className="book-page" id="page" ref={page} tabIndex={-1}>
                {stage === 'read' && <ClosingWords />}
                {notOpen ? <NotOpen words={notOpen} /> : <Station stage={stage} />}
              </main>
              {beside && (
                <section className="book-page book-pegged" aria-label={`${stageNames[beside]}, pegged beside it`}>
                  {besideNotOpen ? <NotOpen words={besideNotOpen} /> : <Station key={beside} stage={beside} pegged />}
                </section>
              )}
              <ErrorBoundary resetKeys={[state.revision]} fallback={<aside className="quiet">The margin has stopped; the mistake is ours.</aside>}>
                <Margin stage={stage} open={marginOpen} onToggle={() => setMarginOpen(!marginOpen)} onKeys={() => setSheet('keys')} />
              </ErrorBoundary>
            </div>
          )}
          <UndoBar />
          {working && (
            <ErrorBoundary resetKeys={[working]} fallbackRender={() => <SheetTrouble onClose={() => setWorking(null)} />}>
              <WorkingSheet of={working} onMove={setWorking} onClose={() => setWorking(null)} />
            </ErrorBoundary>
          )}
          {sheet === 'history' && (
            <ErrorBoundary resetKeys={[pastOf]} fallbackRender={() => <SheetTrouble onClose={() => setSheet(null)} />}>
              <HistorySheet key={pastOf} cell={pastOf} onClose={() => setSheet(null)} />
            </ErrorBoundary>
          )}
          {sheet === 'not-kept' && <NotKept onClose={() => setSheet(null)} />}
          {sheet === 'keys' && <KeysSheet onClose={() => setSheet(null)} />}
        </div>
      </WorkingContext>
    </HistoryContext>
  );
}

/** Said once above a page whose numbers could not be worked out. */
function NotWorkedOut() {
  const { trouble, canEdit, undo } = useBook(({ state }) => ({
    trouble: state.analysis.trouble,
    canEdit: state.can_edit,
    undo: state.undo,
  }));
  const store = useBookStore();
  if (!trouble) return null;
  return (
    <p className="notice row not-worked-out" role="alert">
      {trouble.message}
      {canEdit && undo && trouble.code !== 'not_worked_out' && (
        <button type="button" className="notice-act" onClick={() => void store.step('undo')}>
          Undo: {undo}
        </button>
      )}
    </p>
  );
}

function SheetTrouble({ onClose }: { onClose: () => void }) {
  return (
    <Sheet title="This sheet has stopped" onClose={onClose}>
      <p>The mistake is ours. Nothing you typed is lost; close it and go on.</p>
    </Sheet>
  );
}
