// The first page: students by class code, name and PIN; teachers by name and password; the demo by one click.
import { useQueryClient } from '@tanstack/react-query';
import { Button, Checkbox, Input, Radio } from 'antd';
import { useState } from 'react';
import { useLocation } from 'react-router';
import { type Me, type Schemas, client, get } from '@/shared/api/client';
import { becomeSomebody } from '@/shared/api/session';
import { Field, TroubleLine } from '@/shared/form/fields';
import { useSend } from '@/shared/form/useSend';
import { Entrance } from './entering';

type ClassList = Schemas['ClassList'];

const pinWords = (chosen: boolean) => (chosen ? 'Your PIN' : 'Choose a PIN of 4 to 8 digits, and remember it');

export function SignIn({ demo }: { demo: Me['demo'] }) {
  const queries = useQueryClient();
  const { pathname } = useLocation();
  const enter = (me: Me) => becomeSomebody(queries, me);
  return (
    <Entrance words="From readings written down by hand to a number you can defend.">
      {/* whoever signs out is led to the first page: here their time was over, or a link brought somebody */}
      {pathname !== '/' && (
        <p className="notice" role="status">
          You are not signed in. Sign in, and this page opens; what was typed on this device is kept.
        </p>
      )}
      <div className="sign-in-cards">
        <StudentCard enter={enter} />
        <TeacherCard enter={enter} />
      </div>
      {demo.length > 0 && <Demo demo={demo} enter={enter} />}
    </Entrance>
  );
}

function OwnDevice({ own, onChange }: { own: boolean; onChange: (own: boolean) => void }) {
  return (
    <Checkbox checked={own} onChange={(e) => onChange(e.target.checked)} name="own">
      This is my own device. Else you are signed out after the school day.
    </Checkbox>
  );
}

function StudentCard({ enter }: { enter: (me: Me) => void }) {
  const [code, setCode] = useState('');
  const [list, setList] = useState<ClassList | null>(null);
  const [seat, setSeat] = useState<number | null>(null);
  const [pin, setPin] = useState('');
  const [own, setOwn] = useState(false);
  const [trouble, send, busy] = useSend();
  const chosen = list?.seats.find((s) => s.id === seat);
  const submit = () =>
    send(async () => {
      if (!list) setList(await get(client.POST('/api/sign-in/class', { body: { code } })));
      else if (seat !== null) enter(await get(client.POST('/api/sign-in/student', { body: { code, seat, pin, own_device: own } })));
    });
  return (
    <form
      className="card stack"
      onSubmit={(e) => {
        e.preventDefault();
        submit();
      }}
    >
      <h2>Student</h2>
      {!list && (
        <Field label="Class code, from your teacher">
          <Input value={code} onChange={(e) => setCode(e.target.value)} autoFocus autoCapitalize="characters" autoComplete="off" name="code" />
        </Field>
      )}
      {list && (
        <>
          <p className="quiet">
            {list.school}, {list.name}
          </p>
          <fieldset className="names">
            <legend>Your name</legend>
            {list.seats.map((s, i) => (
              <Radio
                key={s.id}
                name="seat"
                autoFocus={i === 0}
                checked={s.id === seat}
                onChange={() => setSeat(s.id)}
                className={s.id === seat ? 'chosen' : ''}
              >
                {s.name}
              </Radio>
            ))}
          </fieldset>
          {chosen && (
            <Field label={pinWords(chosen.has_pin)}>
              {/* named by itself, for the eye that shows it stands in the label too */}
              <Input.Password
                aria-label={pinWords(chosen.has_pin)}
                value={pin}
                onChange={(e) => setPin(e.target.value)}
                inputMode="numeric"
                autoComplete="off"
                name="pin"
              />
            </Field>
          )}
          {chosen && <OwnDevice own={own} onChange={setOwn} />}
        </>
      )}
      <TroubleLine trouble={trouble} />
      <div className="row">
        <Button type="primary" htmlType="submit" loading={busy} disabled={list ? seat === null || !pin : !code}>
          {list ? 'Sign in' : 'Find my class'}
        </Button>
        {list && (
          <Button type="text" onClick={() => setList(null)}>
            Another class
          </Button>
        )}
      </div>
    </form>
  );
}

function TeacherCard({ enter }: { enter: (me: Me) => void }) {
  const [name, setName] = useState('');
  const [password, setPassword] = useState('');
  const [own, setOwn] = useState(false);
  const [trouble, send, busy] = useSend();
  return (
    <form
      className="card stack"
      onSubmit={(e) => {
        e.preventDefault();
        send(async () => enter(await get(client.POST('/api/sign-in/teacher', { body: { name, password, own_device: own } }))));
      }}
    >
      <h2>Teacher</h2>
      <Field label="Name">
        <Input value={name} onChange={(e) => setName(e.target.value)} autoComplete="username" name="name" />
      </Field>
      <Field label="Password">
        <Input.Password aria-label="Password" value={password} onChange={(e) => setPassword(e.target.value)} autoComplete="current-password" name="password" />
      </Field>
      <OwnDevice own={own} onChange={setOwn} />
      <TroubleLine trouble={trouble} />
      <div>
        <Button htmlType="submit" loading={busy} disabled={!name || !password}>
          Sign in
        </Button>
      </div>
    </form>
  );
}

function Demo({ demo, enter }: { demo: Me['demo']; enter: (me: Me) => void }) {
  const [trouble, send, busy] = useSend();
  return (
    <section className="demo" aria-labelledby="demo-title">
      <h2 id="demo-title">This is the demo: go in as somebody of Tidewater College</h2>
      <div className="row">
        {demo.map((d) => (
          <Button
            key={d.key}
            size="small"
            disabled={busy}
            onClick={() => send(async () => enter(await get(client.POST('/api/sign-in/demo', { body: { key: d.key } }))))}
          >
            {d.words}
          </Button>
        ))}
      </div>
      <TroubleLine trouble={trouble} />
    </section>
  );
}
