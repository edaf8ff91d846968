// A marked stretch: what its points say, fitting only there, or leaving it out with a reason.
import { useQuery } from '@tanstack/react-query';
import { Button, Input } from 'antd';
import { useEffect, useState } from 'react';
import { type Schemas, client, get } from '@/shared/api/client';
import { changeQuantity } from '@/shared/book/choices';
import { useBook, useBookStore } from '@/shared/book/context';
import { CollectButton } from '@/shared/ui/CollectButton';
import { NoteForm } from '@/shared/ui/NoteForm';
import { told } from '@/shared/ui/told';
import { TroubleWords } from '@/shared/ui/TroubleWords';
import type { Stretch } from './MarkArea';
import { readable } from './plot';
import './stretch-bar.css';
import { withUnit } from '@/shared/ui/withUnit';
import { SymbolSelect } from '@/shared/ui/SymbolSelect';
import { Typeset } from '@/shared/ui/Typeset';

interface Props {
  graph: string;
  /** Whose rise over run is shown; empty where nothing is fitted. */
  fit: string;
  /** What is drawn on the graph: where there are several, one is chosen. */
  series: readonly Schemas['PointSeries'][];
  stretch: Stretch;
  onFit: (() => void) | null;
  onFitToo: (() => void) | null;
  onPin: ((text: string) => void) | null;
  onTriangle?: (triangle: Schemas['RiseOverRun'] | null) => void;
  onClose: () => void;
}

export function StretchBar({ graph, fit, series, stretch, onFit, onFitToo, onPin, onTriangle, onClose }: Props) {
  const { state, run, graphs, quantities, plainSymbolOf } = useBook(({ state, run, graphs, quantities, plainSymbolOf }) => ({
    state,
    run,
    graphs,
    quantities,
    plainSymbolOf,
  }));
  const store = useBookStore();
  const [reason, setReason] = useState('');
  const [picked, setPicked] = useState('');
  const seen = series.filter((x) => !x.hidden);
  const chosen = seen.some((x) => x.key === picked) ? picked : (seen[0]?.key ?? '');
  const [ofRun = '', ofQuantity = ''] = chosen.split(':');
  const { low, high } = stretch;
  const found = useQuery({
    queryKey: ['stretch', state.id, state.revision, run, graph, fit, chosen, low, high],
    queryFn: () =>
      get(
        client.GET('/api/books/{book_id}/stretch', {
          params: { path: { book_id: state.id }, query: { graph, low, high, fit, series: chosen, run } },
        }),
      ),
    placeholderData: (before) => before,
    retry: false,
  });
  const log = state.document.runs.find((r) => r.id === run)?.log;
  const s = found.data;
  const rise = s?.rise ?? null;
  useEffect(() => {
    onTriangle?.(rise);
    return () => onTriangle?.(null);
  }, [rise, onTriangle]);
  const at = { low: readable(low, 'below'), high: readable(high, 'above') };
  const drawn = graphs.find((g) => g.id === graph);
  const changed = quantities.find((q) => q.kind === 'changed')?.id;
  const y = quantities.find((q) => q.id === (ofQuantity || drawn?.y));
  const device = y?.instrument;
  const isSteady = device?.kind === 'steady' && device.scatter === s?.scatter;
  const takeScatter = () => {
    if (!y || !s) return;
    const steady = { name: 'readings', division: s.last_digit, readings: 1, percent: '0', digits: '0', common: '0', ...device, kind: 'steady' as const };
    const instrument = { ...steady, between_marks: false, scatter: s.scatter };
    store.edit(changeQuantity(y, 'relabel', { instrument }), `Each reading of ${plainSymbolOf(y.id)} has ± ${s.scatter} now.`);
  };
  const setAside = () => {
    if (!s || !reason.trim()) return;
    const words = `${s.n} ${s.n === 1 ? 'point was' : 'points were'} set aside.`;
    const rows = s.keys.map((key) => Number(key.replace('row', '')));
    if (log) store.edit({ type: 'set_aside_rows', run, first: Math.min(...rows), last: Math.max(...rows), reason: reason.trim() }, words);
    else
      store.edit(
        {
          type: 'batch',
          words: `set aside ${s.n} settings: ${reason.trim()}`.slice(0, 200),
          edits: s.keys.map((setting) => ({ type: 'set_aside', run, setting, quantity: null, repeat: null, reason: reason.trim() })),
        },
        words,
      );
    onClose();
  };
  return (
    <section className="stretch-bar" aria-label="The marked stretch">
      {found.isError ? (
        <TroubleWords beside>{found.error.message}</TroubleWords>
      ) : s ? (
        <>
          {seen.length > 1 && (
            <SymbolSelect
              size="small"
              aria-label="Of which series"
              value={chosen}
              options={seen.map((x) => ({ value: x.key, label: x.name }))}
              popupMatchSelectWidth={false}
              onChange={setPicked}
            />
          )}
          <p>
            <b>
              {s.n} {s.n === 1 ? 'point' : 'points'}
            </b>{' '}
            at <Typeset text={drawn ? plainSymbolOf(drawn.x) : 'x'} /> = {s.x_range}: mean <b>{s.mean.text}</b> (<Typeset text={told(s.mean_rule)} />)
            {drawn && (
              <>
                {' '}
                <CollectButton
                  what="this mean"
                  kind="mean"
                  of={ofQuantity}
                  part={drawn.x === changed ? '' : drawn.x}
                  run={ofRun === run ? '' : ofRun}
                  low={at.low}
                  high={at.high}
                />
              </>
            )}
            , {s.smallest} to {s.largest}
            {s.sd && `, half range ${s.half_range}, s = ${s.sd}`}
            {s.gradient && (
              <>
                ; their own line: gradient <b>{s.gradient.text}</b>
              </>
            )}
          </p>
          {rise && (
            <p>
              Rise over run of the fit: {rise.rise} over {rise.run} = <b>{rise.ratio}</b>
            </p>
          )}
          {s.scatter && y && (!y.given || state.document.freedoms.instruments) && state.can_edit && (
            <p>
              If nothing changed here, a reading of <Typeset text={plainSymbolOf(y.id)} /> is as uncertain as these scatter:{' '}
              <b>{`± ${withUnit(s.scatter, y.unit)}`}</b>{' '}
              {isSteady ? (
                <span className="quiet">that is its ± now</span>
              ) : (
                <Button size="small" onClick={takeScatter}>
                  Take this as its ±
                </Button>
              )}
            </p>
          )}
          {s.area && (
            <p>
              Area under the points: <b>{s.area.text}</b> <CollectButton what="this area" kind="area" of={graph} low={at.low} high={at.high} />
            </p>
          )}
          <form
            className="row"
            onSubmit={(e) => {
              e.preventDefault();
              setAside();
            }}
          >
            {onFit && (
              <Button size="small" onClick={onFit}>
                Fit only here
              </Button>
            )}
            {onFitToo && (
              <Button size="small" onClick={onFitToo}>
                Fit here as well
              </Button>
            )}
            {state.can_edit && (ofRun === run || !ofRun) && (
              <>
                <Input
                  size="small"
                  aria-label="Why is this stretch left out?"
                  value={reason}
                  maxLength={300}
                  placeholder="why it is left out"
                  className="field-long"
                  onChange={(e) => setReason(e.target.value)}
                />
                <Button size="small" htmlType="submit" disabled={!reason.trim()}>
                  Set aside
                </Button>
              </>
            )}
            <Button size="small" type="text" onClick={onClose}>
              Unmark
            </Button>
          </form>
          {onPin && <NoteForm about={`stretch of ${graph}`} onPin={onPin} />}
        </>
      ) : null}
    </section>
  );
}
