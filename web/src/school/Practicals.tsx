// The practicals of a class: giving one out from a plan, the day from which it is seen, closing it, taking it back.
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Button, Input, Select } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import { type Schemas, client, get } from '@/shared/api/client';
import { Labelled } from '@/shared/ui/Labelled';
import { TroubleLine } from '@/shared/form/fields';
import { useSend } from '@/shared/form/useSend';
import { today } from '@/shared/ui/today';
import { Amending } from './Amending';
import type { ClassPeople } from './people';
import { Conditions } from './Conditions';
import { Dates } from './Dates';

type Running = Schemas['RunningPractical'];

export function Practicals({ people }: { people: ClassPeople }) {
  const queries = useQueryClient();
  const again = () => queries.invalidateQueries({ queryKey: ['class', people.id] });
  return (
    <section className="stack practicals">
      <h2>Practicals</h2>
      {people.practicals.length > 0 && (
        <ul className="card practical-lines">
          {people.practicals.map((p) => (
            <PracticalLine key={p.id} practical={p} again={again} />
          ))}
        </ul>
      )}
      <GiveOut people={people} again={again} />
    </section>
  );
}

function PracticalLine({ practical: p, again }: { practical: Running; again: () => Promise<void> }) {
  const [trouble, send, busy] = useSend();
  const path = { params: { path: { practical_id: p.id } } };
  const act = (work: () => Promise<unknown>) =>
    send(async () => {
      await work();
      await again();
    });
  const waits = p.given_out > today();
  const [dating, setDating] = useState(false);
  return (
    <li>
      <b>
        <Link to={`/practicals/${p.id}/walkround`}>{p.title}</Link>
      </b>
      <span className="quiet">{p.closed ? 'closed: it can be read' : waits ? 'not to be seen yet' : 'running'}</span>
      <Labelled words="seen from">
        <Input
          type="date"
          size="small"
          value={p.given_out}
          onChange={(e) => {
            const day = e.target.value;
            if (day) act(() => get(client.POST('/api/practicals/{practical_id}/day', { ...path, body: { day } })));
          }}
        />
      </Labelled>
      <Button
        size="small"
        loading={busy}
        onClick={() => act(() => get(client.POST('/api/practicals/{practical_id}/close', { ...path, body: { closed: !p.closed } })))}
      >
        {p.closed ? 'Open it again' : 'Close it'}
      </Button>
      <Button size="small" aria-expanded={dating} onClick={() => setDating(!dating)}>
        Dates and stations
      </Button>
      <Conditions practical={p} />
      <Amending practical={p} again={again} />
      <Button size="small" type="text" danger onClick={() => act(() => get(client.DELETE('/api/practicals/{practical_id}', path)))}>
        Take it back
      </Button>
      <TroubleLine trouble={trouble} />
      {dating && <Dates practical={p} again={again} onDone={() => setDating(false)} />}
    </li>
  );
}

function GiveOut({ people, again }: { people: ClassPeople; again: () => Promise<void> }) {
  const plans = useQuery({ queryKey: ['plans'], queryFn: () => get(client.GET('/api/plans')), refetchOnMount: 'always' });
  const [plan, setPlan] = useState<number | null>(null);
  const [day, setDay] = useState(today);
  const [trouble, send, busy] = useSend();
  if (!plans.data) return null;
  if (plans.data.length === 0)
    return (
      <p className="quiet">
        There is no plan of yours yet. Begin one on <Link to="/">your start page</Link>.
      </p>
    );
  const give = () =>
    send(async () => {
      if (plan === null) return;
      await get(client.POST('/api/my-classes/{class_id}/practicals', { params: { path: { class_id: people.id } }, body: { plan, day } }));
      setPlan(null);
      await again();
    });
  return (
    <>
      <div className="row">
        <Select
          value={plan}
          placeholder="a plan of mine …"
          aria-label="Plan to give out"
          options={plans.data.map((p) => ({ value: p.id, label: p.title }))}
          onChange={setPlan}
          className="at-least-wide"
        />
        <Labelled words="seen from">
          <Input type="date" value={day} onChange={(e) => setDay(e.target.value)} />
        </Labelled>
        <Button type="primary" disabled={plan === null || !day} loading={busy} onClick={give}>
          Give it out
        </Button>
      </div>
      <TroubleLine trouble={trouble} />
    </>
  );
}
