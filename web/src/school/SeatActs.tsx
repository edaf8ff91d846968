// What can be done for one name: another bench, a forgotten PIN, another spelling, off the list.
import { Button, Input, Popover, Select } from 'antd';
import { useState } from 'react';
import { type Schemas, client, get } from '@/shared/api/client';
import { TroubleLine } from '@/shared/form/fields';
import { useSend } from '@/shared/form/useSend';
import type { ClassPeople } from './people';
import { MoreForSeat } from './MoreForSeat';

interface Props {
  seat: Schemas['SeatLine'];
  people: ClassPeople;
  practicals: number[];
  keep: (next: ClassPeople) => void;
}

export function SeatActs(props: Props) {
  const [open, setOpen] = useState(false);
  return (
    <Popover
      open={open}
      onOpenChange={setOpen}
      trigger="click"
      placement="bottomRight"
      destroyOnHidden
      content={<Acts {...props} close={() => setOpen(false)} />}
    >
      <Button size="small" type="text" aria-label={`For ${props.seat.name}`}>
        …
      </Button>
    </Popover>
  );
}

function Acts({ seat, people, practicals, keep, close }: Props & { close: () => void }) {
  const [name, setName] = useState(seat.name);
  const [asking, setAsking] = useState(false);
  const [trouble, send, busy] = useSend();
  const params = { path: { seat_id: seat.id } };
  const act = (work: () => Promise<ClassPeople>) =>
    send(async () => {
      keep(await work());
      close();
    });
  const benches = [...people.benches, ''].map((bench) => ({ value: bench, label: bench || 'no bench' }));
  return (
    <div className="stack seat-acts">
      <label className="field">
        <span>Sits at</span>
        <Select
          value={seat.bench}
          options={benches}
          aria-label={`Bench of ${seat.name}`}
          onChange={(bench) => act(() => get(client.POST('/api/seats/{seat_id}/move', { params, body: { bench, practicals } })))}
        />
      </label>
      <form
        className="row"
        onSubmit={(e) => {
          e.preventDefault();
          act(() => get(client.POST('/api/seats/{seat_id}/rename', { params, body: { name } })));
        }}
      >
        <Input value={name} onChange={(e) => setName(e.target.value)} aria-label={`How ${seat.name} is written`} spellCheck={false} />
        <Button htmlType="submit" disabled={name === seat.name} loading={busy}>
          Rename
        </Button>
      </form>
      {seat.has_pin && (
        <Button disabled={busy} onClick={() => act(() => get(client.POST('/api/seats/{seat_id}/forget-pin', { params })))}>
          Forgot the PIN: choose a new one at the next sign-in
        </Button>
      )}
      <MoreForSeat seat={seat} people={people} busy={busy} act={act} close={close}>
        {asking ? (
          <div className="row">
            <span>{seat.name} cannot sign in any more; what was written stays.</span>
            <Button danger disabled={busy} onClick={() => act(() => get(client.POST('/api/seats/{seat_id}/take-off', { params })))}>
              Take off the list
            </Button>
          </div>
        ) : (
          <Button type="text" onClick={() => setAsking(true)}>
            Off the list…
          </Button>
        )}
      </MoreForSeat>
      <TroubleLine trouble={trouble} />
    </div>
  );
}
