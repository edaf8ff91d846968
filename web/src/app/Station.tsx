// A station of the trail: its title, its loading, and what is said where something goes wrong in it.
import { Button } from 'antd';
import { Suspense, createElement, lazy, useEffect, useState } from 'react';
import { ErrorBoundary, type FallbackProps } from 'react-error-boundary';
import type { StageName } from '@/shared/api/client';
import { useBook } from '@/shared/book/context';
import { stageNames } from '@/shared/ui/MiniTrail';
import { Quietly } from './Quietly';
import { loadRest, stations } from './stages';

const TRY_AGAIN = 4000;

// only some plans have one
const Rig = lazy(() => import('@/rig/Rig').then((m) => ({ default: m.Rig })));
/** Where something is read off: the table, and the unknowns of a fit. */
const AT_THE_BENCH: readonly StageName[] = ['read', 'fit'];

export function Station({ stage, pegged = false }: { stage: StageName; pegged?: boolean }) {
  const { title, whose, behind, hasRig } = useBook(({ state, reachable }) => ({
    hasRig: state.document.plan.rig.key !== '',
    title: state.document.title,
    whose: state.bench || state.names[0] || '',
    // numbers of a moment ago would be read for those of now; without the server they are all there is
    behind: !state.complete && reachable,
  }));
  const [turn, setTurn] = useState(0);
  // kept here, for what says so is made anew at every try
  const [renewed, setRenewed] = useState<StageName | null>(null);
  useEffect(() => {
    if (!pegged) document.title = `${title} – ${whose} – ${stageNames[stage]}`;
  }, [pegged, whose, stage, title]);
  useEffect(loadRest, []);
  return (
    <>
      {hasRig && !pegged && AT_THE_BENCH.includes(stage) && (
        <ErrorBoundary fallback={<p className="notice">The apparatus has stopped; the mistake is ours. The table goes on.</p>}>
          <Suspense fallback={null}>
            <Rig writes={stage === 'read'} />
          </Suspense>
        </ErrorBoundary>
      )}
      <ErrorBoundary
        resetKeys={[stage]}
        onReset={() => {
          stations[stage].forget();
          setTurn(turn + 1);
        }}
        fallbackRender={(p) => <StationTrouble {...p} stage={stage} renewed={renewed === stage} onRenewed={setRenewed} />}
      >
        {behind && stage !== 'read' ? (
          <Quietly words="Working out what your readings say" />
        ) : (
          <Suspense fallback={<Quietly words={`Opening ${stageNames[stage]}`} />}>{createElement(stations[stage], { key: turn })}</Suspense>
        )}
      </ErrorBoundary>
    </>
  );
}

/** What has happened, what is safe, and a way on. */
function StationTrouble({
  error,
  resetErrorBoundary,
  stage,
  renewed,
  onRenewed,
}: FallbackProps & { stage: StageName; renewed: boolean; onRenewed: (stage: StageName) => void }) {
  const notLoaded = isNotLoaded(error);
  useEffect(() => {
    if (!notLoaded || renewed) return;
    // the network is away, and it comes back by itself; or the server has other files now, and the page has to follow it
    const again = () =>
      void fetch('/api/me').then(
        (answer) => {
          if (answer.ok) onRenewed(stage);
          resetErrorBoundary();
        },
        () => undefined,
      );
    const timer = window.setInterval(again, TRY_AGAIN);
    window.addEventListener('online', again);
    return () => {
      window.clearInterval(timer);
      window.removeEventListener('online', again);
    };
  }, [notLoaded, onRenewed, renewed, resetErrorBoundary, stage]);
  return (
    <section className="station-trouble" role="alert">
      <h1>{notLoaded ? `${stageNames[stage]} is not here yet` : 'Something went wrong here, and the mistake is ours'}</h1>
      <p>
        {notLoaded
          ? renewed
            ? 'The server has been renewed, and this page is from before. Load it anew; it opens where you are.'
            : 'This station has not been loaded, and the network is away. It opens by itself when the network is back.'
          : 'Only this station has stopped. The others go on, and so do the people at your bench.'}
      </p>
      <p>What you typed is kept: on the server, or on this device until it can be sent.</p>
      <p className="row">
        {renewed && (
          <Button type="primary" onClick={() => window.location.reload()}>
            Load the page anew
          </Button>
        )}
        <Button type={renewed ? 'default' : 'primary'} onClick={resetErrorBoundary}>
          Try again
        </Button>
        {!notLoaded && <Button onClick={() => window.location.reload()}>Load the page anew</Button>}
      </p>
    </section>
  );
}

function isNotLoaded(error: unknown): boolean {
  return error instanceof Error && /dynamically imported module|module script|Loading chunk|preload/i.test(error.message);
}
