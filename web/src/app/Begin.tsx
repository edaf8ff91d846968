// The first page of an empty server: the school and its first teacher, with the key that the server has printed.
import { useQueryClient } from '@tanstack/react-query';
import { Button } from 'antd';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { client, get } from '@/shared/api/client';
import { becomeSomebody } from '@/shared/api/session';
import { TextField, TroubleLine, ZoneField, ownZone } from '@/shared/form/fields';
import { useSend } from '@/shared/form/useSend';
import { Entrance, useKey } from './entering';

const FIELDS = ['key', 'school', 'time_zone', 'shown_name', 'name', 'password'] as const;
const KEYS = ['no_such_key', 'key_used', 'key_over', 'other_key'];

export function Begin() {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const [key, setKey, forget] = useKey();
  const [came] = useState(key !== '');
  const [typed, setTyped] = useState({ school: '', time_zone: ownZone(), shown_name: '', name: '', password: '' });
  const [trouble, send, busy] = useSend();
  const field = (name: keyof typeof typed) => ({
    name,
    value: typed[name],
    onChange: (value: string) => setTyped({ ...typed, [name]: value }),
    trouble,
  });
  const isOfKey = KEYS.some((code) => code === trouble.code);
  const submit = () =>
    send(async () => {
      const me = await get(client.POST('/api/begin', { body: { key, ...typed } }));
      forget();
      void navigate('/', { replace: true });
      becomeSomebody(queries, me);
    });
  return (
    <Entrance words="This server has no school yet. You make it, and are its first teacher.">
      <form
        className="card stack entering"
        onSubmit={(e) => {
          e.preventDefault();
          submit();
        }}
      >
        {(!came || isOfKey) && (
          <TextField
            label="The key that the server has printed"
            name="key"
            value={key}
            onChange={setKey}
            trouble={isOfKey ? { ...trouble, field: 'key' } : trouble}
            hint="In the window where it was started: five groups of four signs."
            autoFocus={!came}
          />
        )}
        <TextField {...field('school')} label="The school" autoFocus={came} autoComplete="organization" />
        <TextField {...field('shown_name')} label="Your name, as students know it" autoComplete="name" />
        <div className="two-fields">
          <TextField {...field('name')} label="A name to sign in with" hint="Without blanks." autoComplete="username" />
          <TextField {...field('password')} label="A password" hint="Ten signs or more." secret autoComplete="new-password" />
        </div>
        <ZoneField {...field('time_zone')} />
        <TroubleLine trouble={isOfKey ? { ...trouble, field: 'key' } : trouble} fields={FIELDS} />
        <div>
          <Button type="primary" htmlType="submit" loading={busy}>
            Make the school
          </Button>
        </div>
      </form>
    </Entrance>
  );
}
