// Read: the runs of a lab book, and the ruled table in which readings are written down.
import { Button, Dropdown, Segmented } from 'antd';
import { Suspense, lazy, useState } from 'react';
import { useLocation, useSearchParams } from 'react-router';
import type { Schemas } from '@/shared/api/client';
import { useBook, useDecimalMark } from '@/shared/book/context';
import { withMark } from '@/shared/book/decimalMark';
import { DEFINED, isWorded, readIn } from '@/shared/book/quantities';
import { keepQuietly } from '@/shared/ui/keepQuietly';
import { useRemembered } from '@/shared/ui/useRemembered';
import { LayOut } from './LayOut';
import { LogTable } from './LogTable';
import type { Direction } from './direction';
import { PaperPhoto, usePaperPhoto } from './PaperPhoto';
import { PictureMenu } from './PictureMenu';
import { RuledTable } from './RuledTable';
import { Runs } from './Runs';
import './read.css';

const Film = lazy(() => import('./film/Film').then((m) => ({ default: m.Film })));
const BringIn = lazy(() => import('./BringIn').then((m) => ({ default: m.BringIn })));
const Quantities = lazy(() => import('./Quantities').then((m) => ({ default: m.Quantities })));

const REMEMBERED = 'hobrel:enter-moves';
const KINDS = [
  ['zip', 'CSV with metadata'],
  ['xlsx', 'XLSX'],
  ['ods', 'ODS'],
  ['json', 'Hobrel lab book'],
] as const;

/** Whether the rows of a table are about runs. */
const ofRuns = (run: Schemas['Run']) => run.settings.some((s) => s.of_run);

/** As it was chosen on this device; else down a column, and across where every setting is a card (see read.css). */
function beginDirection(): Direction {
  const chosen = localStorage.getItem(REMEMBERED);
  if (chosen === 'across' || chosen === 'down') return chosen;
  return window.matchMedia('(max-width: 600px)').matches ? 'across' : 'down';
}

export function Read() {
  const { state, analysis, quantities, run } = useBook(({ state, analysis, quantities, run }) => ({ state, analysis, quantities, run }));
  const [direction, setDirection] = useState<Direction>(beginDirection);
  const [sheet, setSheet] = useState<'bring' | 'quantities' | null>(null);
  const example = withMark('2.50', useDecimalMark());
  const [asked, ask] = useSearchParams();
  const defined = asked.get(DEFINED) ?? '';
  const { key: visit } = useLocation();
  const [text, setText] = useState('');
  const [beside, setBeside] = useState('');
  const photo = usePaperPhoto(state.id);
  const [filming, setFilming] = useRemembered(`film of ${state.id}`);
  const turn = (to: Direction) => {
    setDirection(to);
    keepQuietly(localStorage, REMEMBERED, to);
  };
  const bring = (pasted: string) => {
    setText(pasted);
    setSheet('bring');
  };
  const shown = state.document.runs.find((r) => r.id === run);
  const other = state.document.runs.find((r) => r.id === beside && r.id !== run);
  const columnsOf = (r: Schemas['Run'] | undefined) => {
    const read = readIn(quantities);
    return r?.headings ? r.headings.flatMap((id) => read.find((q) => q.id === id) ?? []) : read;
  };
  // beside two tables there is no room for what follows from them
  const derivedOf = (r: Schemas['Run']) => {
    const known = analysis.runs.find((a) => a.run === r.id)?.columns ?? [];
    const drawn = (id: string) => known.some((c) => c.quantity === id && !c.constant && (!r.headings || c.cells.some((cell) => cell.value !== null)));
    return other ? [] : quantities.filter((q) => q.kind === 'derived' && (drawn(q.id) || (ofRuns(r) && q.result_of !== null)));
  };
  const columns = columnsOf(shown);
  const bare = columns.length === 0;
  if (!shown || (bare && !(state.can_edit && state.document.freedoms.plan)))
    return <p className="notice">{state.owner ? 'There is no heading in this table yet.' : 'The plan of this practical has nothing to measure yet.'}</p>;
  const table = (r: Schemas['Run']) =>
    r.log ? (
      <LogTable key={r.id} run={r.id} editable={state.can_edit} />
    ) : (
      <RuledTable
        key={r.id}
        run={r.id}
        columns={columnsOf(r)}
        derived={derivedOf(r)}
        direction={direction}
        onDirection={turn}
        editable={state.can_edit}
        onBring={bring}
      />
    );
  return (
    <>
      <h1 className="hidden-but-heard">{shown.name || 'Readings'}</h1>
      <Runs beside={other ? beside : ''} onBeside={setBeside}>
        <div className="row read-tools">
          <Button size="small" onClick={() => setSheet('quantities')}>
            Quantities
          </Button>
          {state.can_edit && (
            <Button size="small" onClick={() => bring('')}>
              Bring in
            </Button>
          )}
          {state.can_edit && <PictureMenu onPhoto={shown.log ? null : photo.pin} onFilm={() => setFilming(true)} />}
          {!bare && (
            <Dropdown
              trigger={['click']}
              menu={{
                items: KINDS.map(([ending, words]) => ({
                  key: ending,
                  label: <a href={`/api/books/${state.id}/take-out.${ending}`}>{words}</a>,
                })),
              }}
            >
              <Button size="small">Take out</Button>
            </Dropdown>
          )}
          {!bare && (
            <span className="row read-direction">
              <span className="quiet" id="enter-moves">
                Enter moves
              </span>
              <Segmented<Direction>
                aria-labelledby="enter-moves"
                size="small"
                value={direction}
                options={[
                  { value: 'down', label: '↓ down' },
                  { value: 'across', label: '→ across' },
                ]}
                onChange={turn}
              />
            </span>
          )}
        </div>
      </Runs>
      {photo.address && <PaperPhoto key={photo.address} address={photo.address} onPutAway={() => photo.pin(null)} />}
      {filming && (
        <Suspense fallback={null}>
          <Film onPutAway={() => setFilming(false)} />
        </Suspense>
      )}
      <div className={other ? 'two-runs' : undefined}>
        {table(shown)}
        {other && (
          <section aria-label={other.name}>
            <h2>{other.name}</h2>
            {table(other)}
          </section>
        )}
      </div>
      {!shown.log && state.can_edit && columns[0] && !isWorded(columns[0]) && !ofRuns(shown) && (
        <LayOut key={shown.id} run={shown.id} changed={columns[0]} next={columns[1]} />
      )}
      {!shown.log && (
        <p className="quiet read-hint">
          {bare
            ? 'Type two headings, each with its unit: time t (s), or t / s. Or paste a whole table into the first heading, with its own headings above it. The graph is there by itself.'
            : state.can_edit
              ? `Write every reading as you see it, with all its digits: ${example} stays ${example}. A block copied from elsewhere can be pasted into any cell.`
              : 'You are looking at this bench’s readings. Leave a remark in the margin; they change them themselves.'}
        </p>
      )}
      <Suspense fallback={null}>
        {sheet === 'bring' && <BringIn text={text} onClose={() => setSheet(null)} />}
        {(sheet === 'quantities' || defined) && (
          <Quantities
            // the same link once more opens it once more
            key={defined && visit}
            first={defined}
            onClose={() => {
              setSheet(null);
              if (defined) ask({}, { replace: true });
            }}
          />
        )}
      </Suspense>
    </>
  );
}
