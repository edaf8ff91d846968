// Remarks in the margin: what each is about, its thread, and who does what with it.
import { useQuery } from '@tanstack/react-query';
import { Button, Input } from 'antd';
import { useRef, useState } from 'react';
import { type Schemas, type StageName, client, get } from '@/shared/api/client';
import { useBook, useBookStore } from '@/shared/book/context';
import { cellKey } from '@/shared/book/rows';
import { TroubleWords } from '@/shared/ui/TroubleWords';
import { SymbolSelect } from '@/shared/ui/SymbolSelect';
import { Typeset } from '@/shared/ui/Typeset';
import { useDraft } from '@/shared/ui/useDraft';
import { nameOfPlace, placesAt, readingAt, standsNow, stateOf, type RemarkPlace } from './remarkPlaces';

type Remark = Schemas['RemarkOut'];
type Send = (work: Promise<Remark[]>) => Promise<boolean>;

/** Sends what is written once, however often the button is pressed: what has been written since stays. */
function useSendOnce(send: Send): (work: () => Promise<Remark[]>, sent: () => void) => void {
  const onItsWay = useRef(false);
  return (work, sent) => {
    if (onItsWay.current) return;
    onItsWay.current = true;
    void send(work()).then((done) => {
      onItsWay.current = false;
      if (done) sent();
    });
  };
}

export function Remarks({ stage }: { stage: StageName }) {
  const { state } = useBook(({ state }) => ({ state }));
  const store = useBookStore();
  const [trouble, setTrouble] = useState('');
  const send: Send = (work) => {
    setTrouble('');
    return work.then(
      (all) => {
        store.setRemarks(all);
        return true;
      },
      (e: unknown) => {
        setTrouble(e instanceof Error ? e.message : '');
        return false;
      },
    );
  };
  return (
    <>
      <ul>
        {state.remarks
          .filter((r) => r.stage === stage)
          .map((r) => (
            <li key={r.id} className={`remark ${stateOf(r)}`}>
              <OneRemark remark={r} send={send} />
            </li>
          ))}
      </ul>
      {state.can_remark && <RemarkForm key={stage} stage={stage} send={send} />}
      <TroubleWords>{trouble}</TroubleWords>
    </>
  );
}

function OneRemark({ remark: r, send }: { remark: Remark; send: Send }) {
  const { state } = useBook(({ state }) => ({ state }));
  const [answer, setAnswer] = useDraft<string>(`reply to ${r.id}`);
  const sendOnce = useSendOnce(send);
  const [opened, setOpened] = useState(false);
  const answering = answer !== null && (opened || answer !== '');
  const params = { path: { remark_id: r.id } };
  const settle = (settled: boolean) => void send(get(client.POST('/api/remarks/{remark_id}/settle', { params, body: { settled } })));
  if (r.settled)
    return (
      <details>
        <summary>
          <span className="quiet">settled:</span> {r.text}
        </summary>
        <Thread remark={r} />
        {r.own && (
          <Button size="small" type="text" onClick={() => settle(false)}>
            take up again
          </Button>
        )}
      </details>
    );
  return (
    <>
      <About remark={r} />
      {r.text}
      <Thread remark={r} />
      <div className="remark-foot">
        <span>{r.author}</span>
        {state.can_edit && (
          <Button
            size="small"
            type="text"
            aria-pressed={r.done}
            onClick={() => void send(get(client.POST('/api/remarks/{remark_id}/done', { params, body: { done: !r.done } })))}
          >
            {r.done ? 'done ✓' : 'done'}
          </Button>
        )}
        {!state.can_edit && r.done && <span>the bench says done</span>}
        {(state.can_edit || state.can_remark) && !answering && (
          <Button
            size="small"
            type="text"
            onClick={() => {
              setOpened(true);
              setAnswer('');
            }}
          >
            answer
          </Button>
        )}
        {r.own && (
          <Button size="small" type="text" onClick={() => settle(true)}>
            settle
          </Button>
        )}
      </div>
      {answering && (
        <form
          onSubmit={(e) => {
            e.preventDefault();
            sendOnce(
              () => get(client.POST('/api/remarks/{remark_id}/replies', { params, body: { text: answer } })),
              () => setAnswer((now) => (now === answer ? null : now)),
            );
          }}
        >
          <Input.TextArea aria-label="The answer" autoFocus={opened} autoSize value={answer} maxLength={2000} onChange={(e) => setAnswer(e.target.value)} />
          <Button size="small" htmlType="submit" disabled={!answer.trim()}>
            Send the answer
          </Button>
        </form>
      )}
    </>
  );
}

/** What a remark is about, which leads there, and whether that is still as it was. */
function About({ remark }: { remark: Remark }) {
  const { state, plainSymbolOf } = useBook(({ state, plainSymbolOf }) => ({ state, plainSymbolOf }));
  const store = useBookStore();
  const { place, was } = remark;
  if (!place) return null;
  const stands = standsNow(remark, state);
  const about = nameOfPlace(place, state, plainSymbolOf);
  if (stands === 'gone' || !about) return <p className="remark-about quiet">What this was about is no longer there.</p>;
  const changed = place.kind === 'reading' ? ` has changed: it was ${was || 'blank'}` : ' has changed since';
  return (
    <p className="remark-about">
      {place.kind === 'reading' ? (
        <button type="button" onClick={() => store.goTo(cellKey(place.item, place.quantity, place.repeat))}>
          <Typeset text={about} />
        </button>
      ) : (
        <b>
          <Typeset text={about} />
        </b>
      )}
      {stands === 'changed' && <span className="quiet">{changed}</span>}
    </p>
  );
}

function Thread({ remark }: { remark: Remark }) {
  if (remark.replies.length === 0) return null;
  return (
    <ul className="remark-thread">
      {remark.replies.map((reply, i) => (
        <li key={i}>
          <b>{reply.author}</b> {reply.text}
        </li>
      ))}
    </ul>
  );
}

function RemarkForm({ stage, send }: { stage: StageName; send: Send }) {
  const { state, run, plainSymbolOf } = useBook(({ state, run, plainSymbolOf }) => ({ state, run, plainSymbolOf }));
  const store = useBookStore();
  const [draft, setDraft] = useDraft<{ text: string; about: string }>(`remark ${state.id} ${stage}`);
  const sendOnce = useSendOnce(send);
  const { text, about } = draft ?? { text: '', about: '' };
  const [near, setNear] = useState<RemarkPlace | null>(() => (stage === 'read' && about ? (JSON.parse(about) as RemarkPlace) : null));
  const phrases = useQuery({ queryKey: ['phrases'], queryFn: () => get(client.GET('/api/phrases')), staleTime: 60_000 });
  const places = placesAt(stage, state, near, plainSymbolOf);
  const options = [{ value: '', label: 'this station' }, ...places.map(({ place, words }) => ({ value: JSON.stringify(place), label: words }))];
  const place = places.find((p) => JSON.stringify(p.place) === about)?.place ?? null;
  return (
    <form
      className="space-above"
      onSubmit={(e) => {
        e.preventDefault();
        sendOnce(
          () => get(client.POST('/api/books/{book_id}/remarks', { params: { path: { book_id: state.id } }, body: { stage, text, place } })),
          () => setDraft((now) => (now?.text === text ? null : now)),
        );
      }}
    >
      <Input.TextArea
        value={text}
        maxLength={2000}
        onFocus={() => {
          // what is begun goes on being about what it was
          if (text && about) return;
          // whoever comes from a reading means it
          const reading = stage === 'read' ? readingAt(store.whereLast(), run) : null;
          setNear(reading);
          if (reading && !text) setDraft({ text, about: JSON.stringify(reading) });
        }}
        onChange={(e) => setDraft({ text: e.target.value, about })}
        autoSize={{ minRows: 2 }}
        aria-label="A remark for the bench"
        placeholder="A remark for this bench"
      />
      {options.length > 1 && (
        <SymbolSelect
          size="small"
          className="remark-place"
          aria-label="What it is about"
          value={place ? about : ''}
          options={options}
          popupMatchSelectWidth={false}
          onChange={(chosen: string) => setDraft({ text, about: chosen })}
        />
      )}
      <div className="row space-above">
        <Button htmlType="submit" size="small" disabled={!text.trim()}>
          Leave remark
        </Button>
        {!text && phrases.data !== undefined && phrases.data.length > 0 && (
          <SymbolSelect
            size="small"
            aria-label="As before"
            value={null}
            placeholder="as before …"
            options={phrases.data.map((phrase) => ({ value: phrase, label: phrase }))}
            popupMatchSelectWidth={280}
            onChange={(phrase: string | null) => phrase && setDraft({ text: phrase, about })}
          />
        )}
      </div>
    </form>
  );
}
