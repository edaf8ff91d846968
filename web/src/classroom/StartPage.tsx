// Where everybody starts. Teachers: classes, practicals, each bench with its trail in small. Students: their own lab books.
import { useQuery } from '@tanstack/react-query';
import { Button } from 'antd';
import { type MouseEvent, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { type Me, type Schemas, client, get } from '@/shared/api/client';
import { TextField, TroubleLine } from '@/shared/form/fields';
import { useSend } from '@/shared/form/useSend';
import { Bar } from '@/shared/ui/Bar';
import { seenMarks } from '@/shared/book/seen';
import { MiniTrail } from '@/shared/ui/MiniTrail';
import { benchName } from '@/shared/ui/benchName';
import { spokenDate } from '@/shared/ui/spokenDate';
import { told } from '@/shared/ui/told';
import { useArrival } from '@/shared/ui/useArrival';
import { OwnBooks } from './OwnBooks';
import { Plans } from './Plans';
import { Welcome } from './Welcome';
import './start.css';

type ClassOut = Schemas['ClassOut'];
type PracticalOut = Schemas['PracticalOut'];
type BenchSummary = Schemas['BenchSummary'];

export function StartPage({ me }: { me: Me }) {
  const main = useArrival('start');
  const classes = useQuery({
    queryKey: ['classes'],
    queryFn: () => get(client.GET('/api/classes')),
    refetchInterval: 4000,
    refetchOnMount: 'always',
  });
  return (
    <>
      <Bar me={me} where={<b>{me.role === 'teacher' ? 'My classes' : 'My lab books'}</b>} />
      <main className="single-page" ref={main} tabIndex={-1}>
        {classes.isError && <p className="notice bad">{classes.error.message}</p>}
        {classes.data?.length === 0 && me.role !== 'teacher' && <p className="notice">There is no class with your name on its list yet.</p>}
        {classes.data?.length === 0 && me.role === 'teacher' && <Welcome />}
        {classes.data?.map((c) => (
          <ClassSection key={c.id} me={me} schoolClass={c} />
        ))}
        {classes.data && me.role === 'teacher' && <NewClass isFirst={classes.data.length === 0} />}
        {classes.data && me.role === 'teacher' && <Archived />}
        {classes.data && me.role === 'teacher' && <Plans />}
        {classes.data && (
          <OwnBooks
            words={
              me.role === 'teacher'
                ? 'Try something yourself, from an empty table. It can become a plan that you give out to a class.'
                : 'From an empty table: for what you measure by yourself. Nobody else sees it until you share it.'
            }
          />
        )}
      </main>
    </>
  );
}

function Archived() {
  const archived = useQuery({ queryKey: ['archived'], queryFn: () => get(client.GET('/api/archived-classes')), refetchOnMount: 'always' });
  if (!archived.data?.length) return null;
  return (
    <p className="quiet">
      In the archive:{' '}
      {archived.data.map((c, i) => (
        <span key={c.id}>
          {i > 0 && ', '}
          <Link to={`/classes/${c.id}`} className="to-class">
            {[c.name, c.year].filter(Boolean).join(' ')}
          </Link>
        </span>
      ))}
    </p>
  );
}

/** A class in three steps; what is asked first is only its name. */
function NewClass({ isFirst }: { isFirst: boolean }) {
  const navigate = useNavigate();
  const [writing, setWriting] = useState(isFirst);
  const [name, setName] = useState('');
  const [year, setYear] = useState('');
  const [trouble, send, busy] = useSend();
  if (!writing)
    return (
      <div>
        <Button onClick={() => setWriting(true)}>New class</Button>
      </div>
    );
  return (
    <form
      className="card stack new-class"
      onSubmit={(e) => {
        e.preventDefault();
        send(async () => {
          const made = await get(client.POST('/api/my-classes', { body: { name, year } }));
          await navigate(`/classes/${made.id}`);
        });
      }}
    >
      <h2>{isFirst ? 'Begin with a class' : 'A new class'}</h2>
      <p className="quiet">Its list is pasted next, then benches are dealt. Students come in with the class code and choose a PIN.</p>
      <div className="two-fields">
        <TextField label="What the class is called" name="name" value={name} onChange={setName} trouble={trouble} autoFocus />
        <TextField label="School year, if it helps" name="year" value={year} onChange={setYear} trouble={trouble} />
      </div>
      <TroubleLine trouble={trouble} fields={['name', 'year']} />
      <div className="row">
        <Button type="primary" htmlType="submit" loading={busy}>
          Make the class
        </Button>
        {!isFirst && <Button onClick={() => setWriting(false)}>Not now</Button>}
      </div>
    </form>
  );
}

function ClassSection({ me, schoolClass: c }: { me: Me; schoolClass: ClassOut }) {
  return (
    <section className="stack">
      <div className="row spread">
        <div>
          <h1>{c.name}</h1>
          <p className="quiet">{[c.school, c.year].filter(Boolean).join(' · ')}</p>
        </div>
        {me.role === 'teacher' && (
          <div className="row">
            <p className="join-code">
              Class code <b className="mono">{c.join_code}</b>
            </p>
            <Link to={`/classes/${c.id}`} className="to-class">
              List, benches and door
            </Link>
          </div>
        )}
      </div>
      {c.practicals.length === 0 && <p className="notice">No practical has been given out to this class yet.</p>}
      {c.practicals.map((p) => (me.role === 'teacher' ? <TeacherPractical key={p.id} practical={p} /> : <OwnPractical key={p.id} practical={p} />))}
    </section>
  );
}

/** What makes a button a link within the application: a button inside a link would be reached twice with Tab. */
function useLink() {
  const navigate = useNavigate();
  return (to: string) => ({
    href: to,
    onClick: (e: MouseEvent) => {
      if (e.metaKey || e.ctrlKey || e.shiftKey) return;
      e.preventDefault();
      void navigate(to);
    },
  });
}

function TeacherPractical({ practical: p }: { practical: PracticalOut }) {
  const link = useLink();
  const finished = p.benches.filter((b) => b.finding).length;
  return (
    <article className="card practical">
      <div className="row spread">
        <div>
          <h2>{p.title}</h2>
          <p className="quiet">{p.question}</p>
        </div>
        <Button type="primary" {...link(`/practicals/${p.id}/pool`)}>
          Pool: {finished} of {p.benches.length} benches have a finding
        </Button>
      </div>
      <table className="benches">
        <thead>
          <tr>
            <th scope="col">Bench</th>
            <th scope="col">Trail</th>
            <th scope="col">Finding so far</th>
            <th scope="col">To look at</th>
          </tr>
        </thead>
        <tbody>
          {p.benches.map((b) => (
            <BenchLine key={b.book} bench={b} />
          ))}
        </tbody>
      </table>
    </article>
  );
}

function BenchLine({ bench: b }: { bench: BenchSummary }) {
  const navigate = useNavigate();
  return (
    <tr onClick={() => void navigate(`/books/${b.book}/read`)}>
      <th scope="row">
        <Link to={`/books/${b.book}/read`} onClick={(e) => e.stopPropagation()}>
          {b.bench}
        </Link>
        <span className="quiet names-line">{b.names.join(', ')}</span>
      </th>
      <td>
        <MiniTrail stages={seenMarks(b.stages, b.opened)} />
      </td>
      {b.trouble.length > 0 ? (
        <td className="quiet">{told(b.trouble)}</td>
      ) : (
        <td className="mono finding">{b.finding || <span className="quiet">no finding yet</span>}</td>
      )}
      <td>
        {b.slips > 0 && <span className="tag warn">{b.slips === 1 ? '1 slip' : `${b.slips} slips`}</span>}
        {b.handed_in > 0 && <span className="tag good">handed in{b.handed_in > 1 ? ` (${b.handed_in})` : ''}</span>}
        {b.open_remarks > 0 && <span className="tag">{b.open_remarks === 1 ? '1 remark' : `${b.open_remarks} remarks`}</span>}
      </td>
    </tr>
  );
}

function OwnPractical({ practical: p }: { practical: PracticalOut }) {
  const link = useLink();
  if (p.coming)
    return (
      <article className="card practical">
        <h2>{p.title}</h2>
        <p className="quiet">It opens on {spokenDate(p.given_out, false)}.</p>
      </article>
    );
  const own = p.benches.find((b) => b.sits_here);
  const before = p.benches.filter((b) => !b.sits_here);
  return (
    <article className="card practical">
      <div className="row spread">
        <div>
          <h2>{p.title}</h2>
          <p className="quiet">{p.question}</p>
        </div>
        {own && (
          <Button type="primary" {...link(`/books/${own.book}`)}>
            Open the lab book
          </Button>
        )}
      </div>
      {own ? (
        <div className="row space-above">
          <MiniTrail stages={seenMarks(own.stages, own.opened)} />
          {own.trouble.length > 0 ? <span className="quiet">{told(own.trouble)}</span> : <span className="mono">{own.finding || 'no finding yet'}</span>}
          <span className="quiet">
            {benchName(own.bench, 'Bench')}: {own.names.join(', ')}
          </span>
          {own.open_remarks > 0 && <span className="tag">{own.open_remarks === 1 ? '1 remark' : `${own.open_remarks} remarks`} from your teacher</span>}
        </div>
      ) : (
        <p className="notice">You do not sit at a bench yet. Ask your teacher.</p>
      )}
      {before.map((b) => (
        <p key={b.book} className="quiet sat-before">
          Before, you sat at <Link to={`/books/${b.book}/read`}>{b.bench}</Link>: its lab book can still be read.
        </p>
      ))}
    </article>
  );
}
