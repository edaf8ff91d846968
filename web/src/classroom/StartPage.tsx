// Where everybody starts. Teachers: classes, practicals, each bench with its trail in small. Students: their own lab books.
import { useQuery } from '@tanstack/react-query';
import { Button } from 'antd';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { type Me, type Schemas, client, get } from '@/shared/api/client';
import { TextField, TroubleLine } from '@/shared/form/fields';
import { useSend } from '@/shared/form/useSend';
import { Bar } from '@/shared/ui/Bar';
import { useArrival } from '@/shared/ui/useArrival';
import { TroubleWords } from '@/shared/ui/TroubleWords';
import { Earlier } from './Earlier';
import { OwnBooks } from './OwnBooks';
import { Plans } from './Plans';
import { OwnPractical, TeacherPractical } from './Practical';
import { Welcome } from './Welcome';
import './start.css';

type ClassOut = Schemas['ClassOut'];

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
        {classes.isError && <TroubleWords>{classes.error.message}</TroubleWords>}
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

/** What is earlier and asks for nothing: something given back, or a remark, is still to be seen. */
const isDone = (p: Schemas['PracticalOut']) => p.earlier && !p.benches.some((b) => b.sits_here && (b.returned || b.open_remarks > 0));

function ClassSection({ me, schoolClass: c }: { me: Me; schoolClass: ClassOut }) {
  const teaches = me.role === 'teacher';
  return (
    <section className="stack">
      <div className="row spread">
        <div>
          <h1>{c.name}</h1>
          <p className="quiet">{[c.school, c.year].filter(Boolean).join(' · ')}</p>
        </div>
        {teaches && (
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
      {c.practicals.filter((p) => !isDone(p)).map((p) => (teaches ? <TeacherPractical key={p.id} practical={p} /> : <OwnPractical key={p.id} practical={p} />))}
      <Earlier practicals={c.practicals.filter(isDone)} teaches={teaches} />
    </section>
  );
}
