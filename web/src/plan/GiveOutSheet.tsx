// Giving a plan out to a class, from the plan itself.
import { useQuery } from '@tanstack/react-query';
import { Button, Input, Select } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import { client, get } from '@/shared/api/client';
import { useBookStore } from '@/shared/book/context';
import { useSend } from '@/shared/form/useSend';
import { Labelled } from '@/shared/ui/Labelled';
import { Sheet } from '@/shared/ui/Sheet';
import { TroubleWords } from '@/shared/ui/TroubleWords';
import { today } from '@/shared/ui/today';

export function GiveOutSheet({ planId, onClose }: { planId: number; onClose: () => void }) {
  const store = useBookStore();
  const classes = useQuery({ queryKey: ['classes'], queryFn: () => get(client.GET('/api/classes')) });
  const [chosen, setChosen] = useState<number | null>(null);
  const [day, setDay] = useState(today);
  const [given, setGiven] = useState<{ id: number; name: string } | null>(null);
  const [trouble, send, busy] = useSend();
  // who has one class need not choose it; what has just been given out is not given out once more by the next press
  const only = classes.data?.length === 1 && !given ? classes.data[0] : undefined;
  const to = chosen ?? only?.id ?? null;
  const give = () =>
    send(async () => {
      if (to === null) return;
      await store.whenSaved();
      await get(client.POST('/api/my-classes/{class_id}/practicals', { params: { path: { class_id: to } }, body: { plan: planId, day } }));
      setGiven({ id: to, name: classes.data?.find((c) => c.id === to)?.name ?? '' });
      setChosen(null);
    });
  return (
    <Sheet title="Give this plan out" onClose={onClose}>
      <p className="quiet">The class gets it as it is now. What you write in the plan afterwards changes no lab book of a bench by itself.</p>
      {classes.data?.length === 0 && (
        <p className="notice">
          You have no class yet. <Link to="/">Write one on the start page</Link>, and give this out from here or from there.
        </p>
      )}
      <div className="row space-above">
        <Select
          value={to}
          placeholder="to which class …"
          aria-label="Class"
          loading={classes.isPending}
          options={(classes.data ?? []).map((c) => ({ value: c.id, label: [c.name, c.year].filter(Boolean).join(' ') }))}
          onChange={setChosen}
          className="at-least-long"
        />
        <Labelled words="seen from">
          <Input type="date" value={day} onChange={(e) => setDay(e.target.value)} />
        </Labelled>
        <Button type="primary" disabled={to === null || !day} loading={busy} onClick={give}>
          Give it out
        </Button>
      </div>
      {given && (
        <p className="notice good" role="status">
          {given.name} has it now. <Link to={`/classes/${given.id}`}>To the class</Link>
        </p>
      )}
      {trouble.words && (
        <TroubleWords>
          {trouble.words} {trouble.code === 'no_benches' && to !== null && <Link to={`/classes/${to}`}>To the class</Link>}
        </TroubleWords>
      )}
    </Sheet>
  );
}
