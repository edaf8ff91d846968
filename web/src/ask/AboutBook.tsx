// What a lab book of one's own is about, whom it is shared with, and what it can become.
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Button, Popconfirm, Select } from 'antd';
import { useNavigate } from 'react-router';
import { type Edit, type Schemas, client, get } from '@/shared/api/client';
import { useBook, useBookStore } from '@/shared/book/context';
import { Field, TroubleLine } from '@/shared/form/fields';
import { useSend } from '@/shared/form/useSend';
import { Maths } from '@/shared/ui/Maths';
import { useMe } from '@/shared/api/session';
import { Exact } from '@/shared/ui/Exact';
import { Sentence } from '@/shared/ui/Sentence';
import { useField } from '@/shared/ui/useTyped';

type Described = Extract<Edit, { type: 'describe_book' }>['becomes'];
type Part = keyof Described;

const ASKED: { part: Part; label: string; hint: string; most: number }[] = [
  { part: 'title', label: 'Title', hint: '', most: 120 },
  { part: 'question', label: 'Question', hint: 'How does the time of a swing depend on the length?', most: 300 },
  { part: 'relation', label: 'Relation that you expect, if there is one', hint: 'T^2 = 4 pi^2 L / g', most: 200 },
];

export function AboutBook() {
  const { state } = useBook(({ state }) => ({ state }));
  const me = useMe();
  return (
    <div className="about-book">
      <h1>What is it about?</h1>
      {ASKED.map((asked) => (
        <Line key={asked.part} {...asked} />
      ))}
      {state.relation_tex && (
        <p className="quiet">
          You expect <Maths tex={state.relation_tex} />
        </p>
      )}
      {state.owner === me.id && <Sharing />}
    </div>
  );
}

/** What can be done with it as a whole. */
export function BookActs() {
  const { state } = useBook(({ state }) => ({ state }));
  const me = useMe();
  return (
    <div className="row">
      {me.role === 'teacher' && <MakePlan />}
      {state.plan !== null && <Demonstrate plan={state.plan} />}
      {state.plan !== null && <Button href={`/api/books/${state.id}/reading-sheet.pdf`}>A blank reading sheet</Button>}
      {state.plan !== null && <Button href={`/api/books/${state.id}/take-out.json`}>Take it out as a file</Button>}
      {state.owner === me.id && <Erase />}
    </div>
  );
}

/** One line of it, kept when it is left. */
function Line({ part, label, hint, most }: { part: Part; label: string; hint: string; most: number }) {
  const { state, waiting } = useBook(({ state, waiting }) => ({ state, waiting }));
  const store = useBookStore();
  let kept = state.document[part];
  for (const { edit } of waiting) if (edit.type === 'describe_book' && part in edit.becomes) kept = edit.becomes[part];
  const field = useField(kept, (text, was) => store.edit({ type: 'describe_book', was: { [part]: was }, becomes: { [part]: text } } as Edit), {
    needed: part === 'title',
  });
  const shown = part === 'title' && UNTITLED.includes(field.value) ? '' : field.value;
  const same = {
    // who has just begun writes its title first
    autoFocus: part === 'title' && shown === '' && state.can_edit,
    placeholder: part === 'title' ? kept : hint,
    maxLength: most,
    ...field,
    value: shown,
  };
  return <Field label={label}>{part === 'relation' ? <Exact {...same} onPressEnter={(e) => e.currentTarget.blur()} /> : <Sentence {...same} />}</Field>;
}

const UNTITLED = ['Untitled lab book', 'Untitled plan'];

function Sharing() {
  const { id } = useBook(({ state }) => ({ id: state.id }));
  const queries = useQueryClient();
  const [trouble, send, busy] = useSend();
  const path = { params: { path: { book_id: id } } };
  const sharing = useQuery({ queryKey: ['sharing', id], queryFn: () => get(client.GET('/api/own-books/{book_id}/sharing', path)) });
  if (!sharing.data || (sharing.data.others.length === 0 && sharing.data.shared.length === 0)) return null;
  const share = (person: number, shared: boolean) =>
    send(async () => {
      const next: Schemas['SharingOut'] = await get(client.POST('/api/own-books/{book_id}/sharing', { ...path, body: { person, shared } }));
      queries.setQueryData(['sharing', id], next);
    });
  return (
    <section className="about-sharing">
      <h2>Who writes in it with you</h2>
      <ul className="row">
        {sharing.data.shared.map((p) => (
          <li key={p.id} className="tag">
            {p.name}
            <button type="button" aria-label={`Share it with ${p.name} no more`} onClick={() => share(p.id, false)}>
              ×
            </button>
          </li>
        ))}
        <li>
          <Select
            showSearch={{ optionFilterProp: 'label' }}
            value={null}
            loading={busy}
            placeholder="share it with …"
            aria-label="Share it with"
            options={sharing.data.others.map((p) => ({ value: p.id, label: p.name }))}
            onChange={(person: number | null) => person !== null && share(person, true)}
            className="at-least-long"
          />
        </li>
      </ul>
      <TroubleLine trouble={trouble} />
    </section>
  );
}

/** A lab book of one's own with believable readings of another truth, to show how it is done. */
function Demonstrate({ plan }: { plan: number }) {
  const store = useBookStore();
  const navigate = useNavigate();
  const [trouble, send, busy] = useSend();
  const show = () =>
    send(async () => {
      await store.whenSaved();
      const made = await get(client.POST('/api/plans/{plan_id}/demonstration', { params: { path: { plan_id: plan } } }));
      await navigate(`/books/${made.id}/read`);
    });
  return (
    <>
      <Button onClick={show} loading={busy} title="With readings of another truth, so that nobody’s finding is given away">
        A lab book to show how it is done
      </Button>
      <TroubleLine trouble={trouble} />
    </>
  );
}

function MakePlan() {
  const { id, isPlan } = useBook(({ state }) => ({ id: state.id, isPlan: state.plan !== null }));
  const store = useBookStore();
  const navigate = useNavigate();
  const [trouble, send, busy] = useSend();
  const make = () =>
    send(async () => {
      await store.whenSaved();
      const plan = await get(client.POST('/api/plans', { body: { book: id } }));
      await navigate(`/books/${plan.id}/ask`);
    });
  return (
    <>
      <Button onClick={make} loading={busy}>
        {isPlan ? 'Another plan like this one' : 'Make a plan of it'}
      </Button>
      <TroubleLine trouble={trouble} />
    </>
  );
}

function Erase() {
  const { state } = useBook(({ state }) => ({ state }));
  const navigate = useNavigate();
  const [trouble, send, busy] = useSend();
  const erase = () =>
    send(async () => {
      await get(client.DELETE('/api/own-books/{book_id}', { params: { path: { book_id: state.id } } }));
      await navigate('/');
    });
  return (
    <>
      <Popconfirm
        title={state.plan === null ? 'Erase this lab book with all its readings?' : 'Erase this plan?'}
        description={
          state.plan === null ? 'This cannot be undone, for nobody who writes in it.' : 'Practicals that it was given out to go on. This cannot be undone.'
        }
        okText="Erase it"
        cancelText="Leave it"
        okButtonProps={{ danger: true }}
        onConfirm={erase}
      >
        <Button type="text" danger loading={busy}>
          {state.plan === null ? 'Erase this lab book' : 'Erase this plan'}
        </Button>
      </Popconfirm>
      <TroubleLine trouble={trouble} />
    </>
  );
}
