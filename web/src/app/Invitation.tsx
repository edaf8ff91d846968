// Where the link of an invitation leads: a colleague makes their account, or chooses another password.
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Button } from 'antd';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { type Me, type Schemas, client, get } from '@/shared/api/client';
import { becomeSomebody } from '@/shared/api/session';
import { TextField, TroubleLine } from '@/shared/form/fields';
import { useSend } from '@/shared/form/useSend';
import { Quietly } from './Quietly';
import { Entrance, useKey } from './entering';

type InvitationOut = Schemas['InvitationOut'];

export function Invitation() {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const [key, , forget] = useKey();
  const look = useQuery({ queryKey: ['invitation', key], queryFn: () => get(client.POST('/api/invitation/look', { body: { key } })), staleTime: Infinity });
  const enter = (me: Me) => {
    forget();
    void navigate('/', { replace: true });
    becomeSomebody(queries, me);
  };
  const away = () => {
    forget();
    void navigate('/', { replace: true });
  };
  if (look.isPending) return <Quietly words="Opening" />;
  if (look.isError || look.data.kind === 'first')
    return (
      <Entrance words="From readings written down by hand to a number you can defend.">
        <section className="card stack entering">
          <h2>This link does not open anything</h2>
          <p>{look.isError ? look.error.message : 'This key is for the first page of an empty server.'}</p>
          <div>
            <Button onClick={away}>To the first page</Button>
          </div>
        </section>
      </Entrance>
    );
  if (look.data.kind === 'password') return <NewPassword invitation={look.data} secret={key} enter={enter} />;
  return <NewColleague invitation={look.data} secret={key} enter={enter} />;
}

interface Props {
  invitation: InvitationOut;
  /** The key; a property called key is React's own. */
  secret: string;
  enter: (me: Me) => void;
}

function NewColleague({ invitation, secret, enter }: Props) {
  const [typed, setTyped] = useState({ shown_name: '', name: '', password: '' });
  const [trouble, send, busy] = useSend();
  const field = (name: keyof typeof typed) => ({ name, value: typed[name], onChange: (value: string) => setTyped({ ...typed, [name]: value }), trouble });
  return (
    <Entrance words={`${invitation.by || 'Somebody'} invites you to ${invitation.school || 'this server'}.`}>
      <form
        className="card stack entering"
        onSubmit={(e) => {
          e.preventDefault();
          send(async () => enter(await get(client.POST('/api/invitation/accept', { body: { key: secret, ...typed } }))));
        }}
      >
        <h2>{invitation.kind === 'head' ? 'You, as head of department' : 'You, as a teacher'}</h2>
        <TextField {...field('shown_name')} label="Your name, as students know it" autoFocus autoComplete="name" />
        <div className="two-fields">
          <TextField {...field('name')} label="A name to sign in with" hint="Without blanks." autoComplete="username" />
          <TextField {...field('password')} label="A password" hint="Ten signs or more." secret autoComplete="new-password" />
        </div>
        <TroubleLine trouble={trouble} fields={Object.keys(typed)} />
        <div>
          <Button type="primary" htmlType="submit" loading={busy}>
            Come in
          </Button>
        </div>
      </form>
    </Entrance>
  );
}

function NewPassword({ invitation, secret, enter }: Props) {
  const [password, setPassword] = useState('');
  const [trouble, send, busy] = useSend();
  return (
    <Entrance words={invitation.school}>
      <form
        className="card stack entering"
        onSubmit={(e) => {
          e.preventDefault();
          send(async () => enter(await get(client.POST('/api/invitation/password', { body: { key: secret, password } }))));
        }}
      >
        <h2>Another password</h2>
        {/* hidden, so that a browser that keeps passwords knows whose this is */}
        <input type="text" name="username" value={invitation.name} autoComplete="username" readOnly hidden />
        <p>
          You sign in as <b>{invitation.name}</b>. Wherever you are signed in now, that ends.
        </p>
        <TextField
          label="A new password"
          name="password"
          value={password}
          onChange={setPassword}
          trouble={trouble}
          hint="Ten signs or more."
          secret
          autoFocus
          autoComplete="new-password"
        />
        <TroubleLine trouble={trouble} fields={['password']} />
        <div>
          <Button type="primary" htmlType="submit" loading={busy}>
            Keep it and come in
          </Button>
        </div>
      </form>
    </Entrance>
  );
}
