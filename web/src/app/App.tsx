// Providers and addresses.
import { QueryClientProvider, useQuery } from '@tanstack/react-query';
import { Button, ConfigProvider } from 'antd';
import { Suspense, useEffect, useMemo } from 'react';
import { ErrorBoundary } from 'react-error-boundary';
import { BrowserRouter, Navigate, Route, Routes } from 'react-router';
import { useRenewed } from '@/shared/api/form';
import { keepPage } from '@/shared/api/shell';
import { sendAllOf } from '@/shared/queue/outboxes';
import { useStill, useTheme } from '@/shared/theme/chosen';
import { themeOf } from '@/shared/theme/tokens';
import { Lamp } from '@/shared/ui/Lamp';
import { Quietly } from './Quietly';
import { Begin, Invitation, SignIn, placesOf } from './places';
import { askWho, queries } from './queries';

const nonce = document.querySelector<HTMLMetaElement>('meta[property="csp-nonce"]')?.nonce ?? '';

/** Open lists and menus are drawn in a place of their own at the end of the page, which a screen reader can go to. */
const popups = () => document.getElementById('popups') ?? document.body;

export function App() {
  const name = useTheme();
  const still = useStill();
  const theme = useMemo(() => themeOf(name, still), [name, still]);
  return (
    <ConfigProvider theme={theme} csp={{ nonce }} wave={{ disabled: true }} button={{ autoInsertSpace: false }} getPopupContainer={popups}>
      <QueryClientProvider client={queries}>
        <Renewal />
        <Lamp />
        <BrowserRouter>
          <ErrorBoundary fallbackRender={PageTrouble}>
            <Suspense fallback={<Quietly words="Opening" />}>
              <Pages />
            </Suspense>
          </ErrorBoundary>
        </BrowserRouter>
      </QueryClientProvider>
    </ConfigProvider>
  );
}

/** The server has been renewed under an open page: nothing is drawn that it could not read, and what was typed waits. */
function Renewal() {
  if (!useRenewed()) return null;
  return (
    <div className="notice renewal" role="alert">
      The server has been renewed, and this page is from before. What you typed is kept.{' '}
      <Button type="primary" size="small" onClick={() => window.location.reload()}>
        Load the page anew
      </Button>
    </div>
  );
}

/** What is said where a whole page has stopped. */
function PageTrouble() {
  return (
    <main className="station-trouble" role="alert">
      <h1>This page has stopped, and the mistake is ours</h1>
      <p>What you typed is kept: on the server, or on this device until it can be sent.</p>
      <p className="row">
        <Button type="primary" onClick={() => window.location.reload()}>
          Load the page anew
        </Button>
        <Button onClick={() => window.location.assign('/')}>To the start page</Button>
      </p>
    </main>
  );
}

const AT_REST = 4000;

function Pages() {
  const me = useQuery(askWho);
  const person = me.data?.id ?? 0;
  useEffect(() => {
    // what was left waiting in lab books that are not open now
    if (person) void sendAllOf(person);
  }, [person]);
  const isKnown = me.data !== undefined;
  useEffect(() => {
    if (!isKnown) return;
    // when the first view has been drawn and everything for it fetched
    const later = setTimeout(() => void keepPage(person > 0).catch(() => undefined), AT_REST);
    return () => clearTimeout(later);
  }, [isKnown, person]);
  if (me.isPending) return <Quietly words="Opening" />;
  if (me.isError) return <Quietly words="The server cannot be reached. This page tries again by itself; you can also reload it." />;
  if (!me.data.role)
    return (
      <Routes>
        <Route path="/invitation" element={<Invitation />} />
        <Route path="*" element={me.data.has_begun ? <SignIn demo={me.data.demo} /> : <Begin />} />
      </Routes>
    );
  return (
    <Routes>
      <Route path="/invitation" element={<Invitation />} />
      {placesOf(me.data).map(({ path, Page }) => (
        <Route key={path} path={path} element={<Page me={me.data} />} />
      ))}
      <Route path="*" element={<Navigate to="/" replace />} />
    </Routes>
  );
}
