// Take the report out, hand it in, and what has been handed in so far.
import { Button } from 'antd';
import { type ReactNode, useEffect, useRef, useState } from 'react';
import { type Schemas, client, get } from '@/shared/api/client';
import { useBook, useBookStore } from '@/shared/book/context';
import { spokenDate } from '@/shared/ui/moments';
import { TroubleWords } from '@/shared/ui/TroubleWords';
import { HandedIn } from './HandedIn';

const OTHER_FILES = [
  ['docx', 'Word processor (DOCX)'],
  ['odt', 'Word processor (ODT)'],
  ['html', 'Page for any browser (HTML)'],
] as const;

export function HandIn({ missing, children }: { missing: readonly Schemas['Missing'][]; children: ReactNode }) {
  const { state, unsent } = useBook(({ state, unsent }) => ({ state, unsent }));
  const store = useBookStore();
  const [asking, setAsking] = useState(false);
  const [busy, setBusy] = useState(false);
  const [trouble, setTrouble] = useState('');
  // what had the focus is gone when the question is answered: it goes to what has come of it
  const [answer, setAnswer] = useState<'done' | 'not yet' | null>(null);
  const list = useRef<HTMLUListElement>(null);
  const button = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    if (answer === 'done') list.current?.focus();
    else if (answer) button.current?.focus();
  }, [answer]);
  const last = state.hand_ins.at(-1);
  const changed = last ? last.revision !== state.revision : true;
  const handIn = () => {
    setBusy(true);
    setTrouble('');
    get(client.POST('/api/books/{book_id}/hand-in', { params: { path: { book_id: state.id } } }))
      .then((all) => {
        store.setHandIns(all);
        setAsking(false);
        setAnswer('done');
      })
      .catch((e: unknown) => setTrouble(e instanceof Error ? e.message : ''))
      .finally(() => setBusy(false));
  };
  const leave = () => {
    setAsking(false);
    setAnswer('not yet');
  };
  return (
    <div className="hand-in">
      <div className="row spread">
        <div className="row">
          <Button href={`/api/books/${state.id}/report.pdf`}>Take out PDF</Button>
          <details className="take-out">
            <summary>Other files</summary>
            <ul>
              {OTHER_FILES.map(([ending, words]) => (
                <li key={ending}>
                  <a href={`/api/books/${state.id}/report.${ending}`}>{words}</a>
                </li>
              ))}
              {(['a4', 'letter'] as const).map((paper) => (
                <li key={paper}>
                  <a href={`/api/books/${state.id}/report.pdf?paper=${paper}`}>PDF on {paper === 'a4' ? 'A4' : 'letter'} paper</a>
                </li>
              ))}
              <li>
                <a href={`/api/books/${state.id}/report/pictures.zip`}>All its pictures</a>
              </li>
            </ul>
          </details>
          {children}
        </div>
        {state.can_edit && state.owner === null && !asking && (
          <Button
            ref={button}
            type="primary"
            disabled={!changed || unsent > 0}
            onClick={() => {
              setAsking(true);
              setAnswer(null);
            }}
          >
            {!last ? 'Hand in' : changed ? 'Hand in again' : 'Handed in'}
          </Button>
        )}
      </div>
      {/* a plan's sections are for benches to write */}
      {missing.length > 0 && state.plan === null && <StillMissing missing={missing} open={asking} before={state.owner === null ? ' before you hand in' : ''} />}
      {asking && (
        <div
          className="notice row"
          role="alertdialog"
          aria-label="Hand in"
          onKeyDown={(e) => {
            if (e.key === 'Escape') leave();
          }}
        >
          <span>
            {missing.length > 0 && 'You can hand it in all the same. '}
            What is handed in stays as it is now. You can go on working and hand in again.
          </span>
          <Button type="primary" loading={busy} onClick={handIn} autoFocus>
            Hand in now
          </Button>
          <Button onClick={leave}>Not yet</Button>
        </div>
      )}
      {state.dates.due && (
        <p className="quiet">
          {new Date(state.dates.due) < new Date() ? 'It was due on ' : 'It is due on '}
          {spokenDate(state.dates.due)}
          {state.dates.late ? '; later will do.' : ', and not later.'}
        </p>
      )}
      <TroubleWords>{trouble}</TroubleWords>
      <HandedIn list={list} />
    </div>
  );
}

/** What is not as it should be yet, each leading to where it can be mended. */
function StillMissing({ missing, open, before }: { missing: readonly Schemas['Missing'][]; open: boolean; before: string }) {
  const [shown, setShown] = useState(false);
  const count = missing.length === 1 ? 'One thing' : `${missing.length} things`;
  return (
    <details className="still-missing" open={shown || open} onToggle={(e) => setShown(e.currentTarget.open)}>
      <summary>
        {count} to look at{before}
      </summary>
      <ul>
        {missing.map((m, i) => (
          <li key={i}>
            {m.part ? (
              <a
                href={`#${m.part}`}
                onClick={(e) => {
                  e.preventDefault();
                  const part = document.getElementById(m.part);
                  (part?.querySelector('textarea') ?? part)?.focus();
                  part?.scrollIntoView({ block: 'start' });
                }}
              >
                {m.words.text}
              </a>
            ) : (
              m.words.text
            )}
          </li>
        ))}
      </ul>
    </details>
  );
}
