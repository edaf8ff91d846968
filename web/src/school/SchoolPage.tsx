// The school: its name and clock, who teaches at it, and who has been invited.
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Button, Segmented } from 'antd';
import { useState } from 'react';
import { type Me, type Schemas, client, get } from '@/shared/api/client';
import { TextField, TroubleLine, ZoneField } from '@/shared/form/fields';
import { useSend } from '@/shared/form/useSend';
import { Bar } from '@/shared/ui/Bar';
import { useArrival } from '@/shared/ui/useArrival';
import { TroubleWords } from '@/shared/ui/TroubleWords';
import { spokenDate } from '@/shared/ui/moments';
import { Labelled } from '@/shared/ui/Labelled';
import { EraseForm } from './EraseForm';
import { OneTimeLink } from './OneTimeLink';
import './school.css';

type SchoolOut = Schemas['SchoolOut'];
type Kind = Schemas['InviteIn']['kind'];
type NewKey = Schemas['NewKey'];

interface Shown {
  made: NewKey;
  words: string;
}

export function SchoolPage({ me }: { me: Me }) {
  const main = useArrival('school');
  const queries = useQueryClient();
  const school = useQuery({ queryKey: ['school'], queryFn: () => get(client.GET('/api/school')), refetchOnMount: 'always' });
  const keep = (next: SchoolOut) => queries.setQueryData(['school'], next);
  return (
    <>
      <Bar me={me} where={<b>The school</b>} />
      <main className="single-page" ref={main} tabIndex={-1}>
        {school.isError && <TroubleWords>{school.error.message}</TroubleWords>}
        {school.data && (
          <>
            <header>
              <h1>{school.data.name || 'The school'}</h1>
              <p className="quiet">Its clock is that of {school.data.time_zone}.</p>
            </header>
            <People me={me} school={school.data} keep={keep} />
            {me.is_head && <Naming school={school.data} keep={keep} />}
            {me.is_head && <Receipts />}
          </>
        )}
      </main>
    </>
  );
}

function People({ me, school, keep }: { me: Me; school: SchoolOut; keep: (next: SchoolOut) => void }) {
  const queries = useQueryClient();
  const [trouble, send, busy] = useSend();
  const [shown, setShown] = useState<Shown | null>(null);
  const [erasing, setErasing] = useState<Schemas['Colleague'] | null>(null);
  const invite = (kind: Kind, words: string, person: number | null = null) =>
    send(async () => {
      setShown({ made: await get(client.POST('/api/invitations', { body: { kind, person } })), words });
      await queries.invalidateQueries({ queryKey: ['school'] });
    });
  const callBack = (id: number) =>
    send(async () => {
      keep(await get(client.DELETE('/api/invitations/{invitation_id}', { params: { path: { invitation_id: id } } })));
      setShown(null);
    });
  return (
    <section className="card stack" aria-labelledby="teachers">
      <h2 id="teachers">Teachers</h2>
      <table className="people">
        <thead>
          <tr>
            <th scope="col">Name</th>
            <th scope="col">Signs in as</th>
            <th scope="col">Can also</th>
            <th scope="col">
              <span className="hidden-but-heard">Help</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {school.colleagues.map((c) => (
            <tr key={c.id}>
              <th scope="row">
                {c.name}
                {c.id === me.id && <span className="quiet"> (you)</span>}
              </th>
              <td className="mono">{c.sign_in}</td>
              <td className="quiet">{c.is_head ? 'let heads in, give passwords anew' : ''}</td>
              <td>
                {me.is_head && c.id !== me.id && (
                  <Button
                    size="small"
                    type="text"
                    disabled={busy}
                    onClick={() => invite('password', `for ${c.name}, to choose another password`, c.id)}
                    aria-label={`A link for ${c.name} to choose another password`}
                  >
                    Forgot the password?
                  </Button>
                )}
                {me.is_head && c.id !== me.id && (
                  <Button size="small" type="text" danger onClick={() => setErasing(c)} aria-label={`Erase ${c.name}`}>
                    Erase…
                  </Button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <div className="row">
        <Button type="primary" disabled={busy} onClick={() => invite('colleague', 'for one colleague')}>
          Invite a colleague
        </Button>
        {me.is_head && (
          <Button disabled={busy} onClick={() => invite('head', 'for one more head of department')}>
            Invite a head of department
          </Button>
        )}
      </div>
      <TroubleLine trouble={trouble} />
      {erasing && (
        <EraseForm
          key={erasing.id}
          name={erasing.name}
          words={`${erasing.name} goes, with plans and lab books of their own. Practicals that were given out stay.`}
          takeOut=""
          erase={(name) => get(client.POST('/api/teachers/{teacher_id}/erase', { params: { path: { teacher_id: erasing.id } }, body: { name } }))}
          onErased={() => {
            setErasing(null);
            void queries.invalidateQueries();
          }}
          onLeave={() => setErasing(null)}
        />
      )}
      {shown && <OneTimeLink address={school.address} words={shown.words} made={shown.made} path="/invitation" />}
      <Waiting school={school} busy={busy} callBack={callBack} />
    </section>
  );
}

/** What has been erased; it says of nobody who they were. */
function Receipts() {
  const receipts = useQuery({ queryKey: ['receipts'], queryFn: () => get(client.GET('/api/receipts')), refetchOnMount: 'always' });
  if (!receipts.data?.length) return null;
  return (
    <section className="card stack">
      <h2>What has been erased</h2>
      <ul className="plain-list">
        {receipts.data.map((r) => (
          <li key={r.at}>
            <span className="quiet">
              {spokenDate(r.at)}, by {r.by}:
            </span>{' '}
            {r.words}
          </li>
        ))}
      </ul>
    </section>
  );
}

const FOR: Record<string, string> = { colleague: 'A colleague', head: 'A head of department', password: 'A new password' };

function Waiting({ school, busy, callBack }: { school: SchoolOut; busy: boolean; callBack: (id: number) => void }) {
  if (school.invitations.length === 0) return null;
  return (
    <>
      <h3>Links that nobody has used yet</h3>
      <ul className="waiting-links">
        {school.invitations.map((i) => (
          <li key={i.id}>
            <span>
              {FOR[i.kind] ?? i.kind}
              {i.person && ` for ${i.person}`}
              <span className="quiet">
                {i.by && ` · by ${i.by}`}
                {i.expires && ` · good until ${spokenDate(i.expires)}`}
              </span>
            </span>
            <Button size="small" type="text" disabled={busy} onClick={() => callBack(i.id)}>
              Call back
            </Button>
          </li>
        ))}
      </ul>
    </>
  );
}

function Naming({ school, keep }: { school: SchoolOut; keep: (next: SchoolOut) => void }) {
  const [name, setName] = useState(school.name);
  const [zone, setZone] = useState(school.time_zone);
  const [trouble, send, busy] = useSend();
  const [paper, setPaper] = useState(school.paper);
  const isSame = name === school.name && zone === school.time_zone && paper === school.paper;
  return (
    <form
      className="card stack naming"
      onSubmit={(e) => {
        e.preventDefault();
        send(async () => {
          keep(await get(client.POST('/api/school', { body: { name, time_zone: zone, paper } })));
        });
      }}
    >
      <h2>Name, clock and paper</h2>
      <TextField label="The school" name="school" value={name} onChange={setName} trouble={trouble} />
      <ZoneField value={zone} onChange={setZone} trouble={trouble} />
      <Labelled words="Reports and sheets are printed on" group>
        <Segmented
          aria-label="Paper"
          value={paper}
          onChange={setPaper}
          options={[
            { value: 'a4', label: 'A4' },
            { value: 'letter', label: 'Letter' },
          ]}
        />
      </Labelled>
      <TroubleLine trouble={trouble} fields={['school', 'time_zone']} />
      <div>
        <Button htmlType="submit" loading={busy} disabled={isSame}>
          Keep
        </Button>
      </div>
    </form>
  );
}
