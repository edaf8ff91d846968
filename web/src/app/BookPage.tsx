// A lab book: bar, trail, the chosen stage on its sheet, and the margin.
import { useQuery } from '@tanstack/react-query';
import { Suspense, lazy, useCallback, useEffect, useMemo, useState } from 'react';
import { Navigate, useNavigate, useParams } from 'react-router';
import { type Me, type StageName, client, get } from '@/shared/api/client';
import { BookProvider, HistoryContext, useBook, useBookStore } from '@/shared/book/context';
import { BookStore, runKey } from '@/shared/book/store';
import { Bar } from '@/shared/ui/Bar';
import { stageNames } from '@/shared/ui/MiniTrail';
import { WorkingContext } from '@/shared/ui/Number';
import { HistorySheet } from './HistorySheet';
import { KeysSheet } from './KeysSheet';
import { Margin } from './Margin';
import { Quietly } from './Quietly';
import { SavedWords } from './SavedWords';
import { Trail } from './Trail';
import { UndoBar } from './UndoBar';
import { WorkingSheet } from './WorkingSheet';
import './book.css';

const stages = {
  ask: lazy(() => import('@/ask/Ask').then((m) => ({ default: m.Ask }))),
  read: lazy(() => import('@/read/Read').then((m) => ({ default: m.Read }))),
  average: lazy(() => import('@/average/Average').then((m) => ({ default: m.Average }))),
  look: lazy(() => import('@/look/Look').then((m) => ({ default: m.Look }))),
  straighten: lazy(() => import('@/straighten/Straighten').then((m) => ({ default: m.Straighten }))),
  fit: lazy(() => import('@/fit/Fit').then((m) => ({ default: m.Fit }))),
  find: lazy(() => import('@/find/Find').then((m) => ({ default: m.Find }))),
  pool: lazy(() => import('@/pool/Pool').then((m) => ({ default: m.PoolStage }))),
  report: lazy(() => import('@/report/Report').then((m) => ({ default: m.Report }))),
} satisfies Record<StageName, unknown>;
const order = Object.keys(stages) as StageName[];

export function BookPage({ me }: { me: Me }) {
  const { book = '', stage = '' } = useParams();
  const loaded = useQuery({
    queryKey: ['book', book],
    queryFn: () => get(client.GET('/api/books/{book_id}', { params: { path: { book_id: Number(book) }, query: { run: localStorage.getItem(runKey(Number(book))) ?? '' } } })),
    staleTime: Infinity,
    gcTime: 0,
  });
  const state = loaded.data;
  const store = useMemo(() => (state ? new BookStore(state) : null), [state]);
  if (loaded.isError) return <Quietly words={loaded.error.message} />;
  if (!store) return <Quietly words="Opening the lab book" />;
  if (!order.includes(stage as StageName)) return <Navigate to={`/books/${book}/read`} replace />;
  return (
    <BookProvider store={store}>
      <OpenBook me={me} stage={stage as StageName} />
    </BookProvider>
  );
}

type SheetName = 'history' | 'keys' | null;

function OpenBook({ me, stage }: { me: Me; stage: StageName }) {
  const { state, goTo } = useBook();
  const store = useBookStore();
  const navigate = useNavigate();
  const [working, setWorking] = useState<string | null>(null);
  const [sheet, setSheet] = useState<SheetName>(null);
  const [marginOpen, setMarginOpen] = useState(() => window.innerWidth > 900);
  const [pastOf, setPastOf] = useState('');
  const showHistory = useCallback((cell: string) => {
    setPastOf(cell);
    setSheet('history');
  }, []);
  const Stage = stages[stage];

  useEffect(() => {
    document.title = `${state.document.title} – ${state.bench} – ${stageNames[stage]}`;
  }, [stage, state.bench, state.document.title]);

  useEffect(() => {
    if (goTo && Date.now() - goTo.turn < 500) void navigate(`/books/${state.id}/read`);
  }, [goTo, navigate, state.id]);

  useEffect(() => {
    const press = (e: KeyboardEvent) => {
      const typing = e.target instanceof HTMLInputElement || e.target instanceof HTMLTextAreaElement;
      const number = /^Digit([1-9])$/.exec(e.code)?.[1];
      if (e.altKey && number) {
        e.preventDefault();
        const wanted = order[Number(number) - 1];
        if (wanted) void navigate(`/books/${state.id}/${wanted}`);
      } else if ((e.ctrlKey || e.metaKey) && e.key.toLowerCase() === 'z' && state.can_edit) {
        // inside a field with unsent typing the browser's own undo comes first
        if (typing && e.target.dataset.dirty === 'yes') return;
        e.preventDefault();
        void store.step(e.shiftKey ? 'redo' : 'undo');
      } else if (e.key === '?' && !typing) setSheet('keys');
    };
    window.addEventListener('keydown', press);
    return () => window.removeEventListener('keydown', press);
  }, [navigate, state.can_edit, state.id, store]);

  return (
    <HistoryContext value={showHistory}>
    <WorkingContext value={setWorking}>
      <div className="book">
        <Bar
          me={me}
          where={
            <>
              {state.class_name} · <b>{state.document.title}</b> · bench <b>{state.bench}</b>
            </>
          }
        >
          <SavedWords onHistory={() => showHistory('')} />
        </Bar>
        <Trail current={stage} />
        <div className={`book-body${marginOpen ? '' : ' folded'}`}>
          <main className="book-page" id="page">
            <Suspense fallback={<Quietly words={`Opening ${stageNames[stage]}`} />}>
              <Stage />
            </Suspense>
          </main>
          <Margin stage={stage} open={marginOpen} onToggle={() => setMarginOpen(!marginOpen)} onKeys={() => setSheet('keys')} />
        </div>
        <UndoBar />
        {working && <WorkingSheet of={working} onMove={setWorking} onClose={() => setWorking(null)} />}
        {sheet === 'history' && <HistorySheet key={pastOf} cell={pastOf} onClose={() => setSheet(null)} />}
        {sheet === 'keys' && <KeysSheet onClose={() => setSheet(null)} />}
      </div>
    </WorkingContext>
    </HistoryContext>
  );
}
