// The class as a whole: who teaches it, what its students may begin, the next year, the archive, and the end.
import { useQuery } from '@tanstack/react-query';
import { Button, Checkbox, Select } from 'antd';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { client, get } from '@/shared/api/client';
import { TextField, TroubleLine } from '@/shared/form/fields';
import { useSend } from '@/shared/form/useSend';
import { DECIMAL_MARKS, type DecimalMark } from '@/shared/book/decimalMark';
import { Labelled } from '@/shared/ui/Labelled';
import type { ClassPeople } from './people';
import { EraseForm } from './EraseForm';

interface Props {
  people: ClassPeople;
  keep: (next: ClassPeople) => void;
}

type Mark = DecimalMark | '';

const MARKS: { value: Mark; label: string }[] = [{ value: '', label: 'the mark that each plan has' }, ...DECIMAL_MARKS];

type Asked = 'next' | 'erase' | null;

export function WholeClass({ people, keep }: Props) {
  const navigate = useNavigate();
  const [asked, setAsked] = useState<Asked>(null);
  const [trouble, send, busy] = useSend();
  const params = { path: { class_id: people.id } };
  return (
    <section className="stack whole-class">
      <h2>The class as a whole</h2>
      <Teachers people={people} keep={keep} />
      <Checkbox
        checked={people.own_books}
        onChange={(e) =>
          send(async () => keep(await get(client.POST('/api/my-classes/{class_id}/own-books', { params, body: { allowed: e.target.checked } }))))
        }
      >
        Its students may begin lab books of their own, and share them within the class
      </Checkbox>
      <div className="row">
        <Labelled words="Numbers in its lab books are shown with">
          <Select
            value={people.decimal_mark ?? ''}
            options={MARKS}
            loading={busy}
            popupMatchSelectWidth={false}
            onChange={(mark: Mark) =>
              send(async () => keep(await get(client.POST('/api/my-classes/{class_id}/decimal-mark', { params, body: { mark: mark || null } }))))
            }
          />
        </Labelled>
      </div>
      <div className="row">
        <Button onClick={() => setAsked('next')}>The class of the next year</Button>
        <Button
          loading={busy}
          onClick={() => send(async () => keep(await get(client.POST('/api/my-classes/{class_id}/archive', { params, body: { archived: !people.archived } }))))}
        >
          {people.archived ? 'Bring it back from the archive' : 'Put it into the archive'}
        </Button>
        <Button href={`/api/my-classes/${people.id}/export.zip`}>Take all of it out</Button>
        <Button type="text" danger onClick={() => setAsked('erase')}>
          Erase this class…
        </Button>
      </div>
      <TroubleLine trouble={trouble} />
      {asked === 'next' && <NextYear people={people} close={() => setAsked(null)} />}
      {asked === 'erase' && (
        <div className="card">
          <EraseForm
            name={people.name}
            words={`${people.name} goes with its list, its practicals, all lab books and everything that was handed in; so do its students who are in no other class.`}
            takeOut={`/api/my-classes/${people.id}/export.zip`}
            erase={(name) => get(client.POST('/api/my-classes/{class_id}/erase', { params, body: { name } }))}
            onErased={() => void navigate('/')}
            onLeave={() => setAsked(null)}
          />
        </div>
      )}
    </section>
  );
}

function Teachers({ people, keep }: Props) {
  const school = useQuery({ queryKey: ['school'], queryFn: () => get(client.GET('/api/school')) });
  const [trouble, send, busy] = useSend();
  const share = (person: number, teaches: boolean) =>
    send(async () =>
      keep(await get(client.POST('/api/my-classes/{class_id}/teachers', { params: { path: { class_id: people.id } }, body: { person, teaches } }))),
    );
  const others = (school.data?.colleagues ?? []).filter((c) => !people.teachers.some((t) => t.id === c.id));
  return (
    <div className="row">
      <span className="quiet">Taught by</span>
      {people.teachers.map((t) => (
        <span key={t.id} className="tag">
          {t.name}
          {people.teachers.length > 1 && (
            <button type="button" aria-label={`${t.name} teaches it no more`} onClick={() => share(t.id, false)}>
              ×
            </button>
          )}
        </span>
      ))}
      {others.length > 0 && (
        <Select
          value={null}
          loading={busy}
          placeholder="and by …"
          aria-label="A colleague who teaches it too"
          options={others.map((c) => ({ value: c.id, label: c.name }))}
          onChange={(person: number | null) => person !== null && share(person, true)}
          className="at-least-long"
        />
      )}
      <TroubleLine trouble={trouble} />
    </div>
  );
}

function NextYear({ people, close }: { people: ClassPeople; close: () => void }) {
  const navigate = useNavigate();
  const [name, setName] = useState(people.name);
  const [year, setYear] = useState('');
  const [trouble, send, busy] = useSend();
  const make = () =>
    send(async () => {
      const made = await get(client.POST('/api/my-classes/{class_id}/next-year', { params: { path: { class_id: people.id } }, body: { name, year } }));
      close();
      await navigate(`/classes/${made.id}`);
    });
  return (
    <form
      className="card stack new-class"
      onSubmit={(e) => {
        e.preventDefault();
        make();
      }}
    >
      <p className="quiet">It has the practicals of this class, each a year later, as your plans are now. Nobody is on its list yet.</p>
      <div className="two-fields">
        <TextField label="What the class is called" name="name" value={name} onChange={setName} trouble={trouble} autoFocus />
        <TextField label="School year" name="year" value={year} onChange={setYear} trouble={trouble} />
      </div>
      <TroubleLine trouble={trouble} fields={['name', 'year']} />
      <div className="row">
        <Button type="primary" htmlType="submit" loading={busy}>
          Make it
        </Button>
        <Button onClick={close}>Not now</Button>
      </div>
    </form>
  );
}
