// What is done for one student beside where they sit: absent today, let in, the same as in another class, erased.
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Button, Select } from 'antd';
import { type ReactNode, useState } from 'react';
import { type Schemas, client, get } from '@/shared/api/client';
import type { ClassPeople } from './people';
import { EraseForm } from './EraseForm';

interface Props {
  seat: Schemas['SeatLine'];
  people: ClassPeople;
  busy: boolean;
  act: (work: () => Promise<ClassPeople>) => void;
  close: () => void;
  /** What stands above the end of it. */
  children: ReactNode;
}

export function MoreForSeat({ seat, people, busy, act, close, children }: Props) {
  const [erasing, setErasing] = useState(false);
  const queries = useQueryClient();
  const params = { path: { seat_id: seat.id } };
  const elsewhere = useQuery({ queryKey: ['elsewhere', seat.id], queryFn: () => get(client.GET('/api/seats/{seat_id}/elsewhere', { params })) });
  if (erasing)
    return (
      <EraseForm
        name={seat.name}
        words={`${seat.name} goes, with lab books in which nobody else has written. What was written with others stays under no name.`}
        takeOut={`/api/seats/${seat.id}/export.zip`}
        erase={(name) => get(client.POST('/api/seats/{seat_id}/erase', { params, body: { name } }))}
        onErased={() => {
          void queries.invalidateQueries({ queryKey: ['class', people.id] });
          close();
        }}
        onLeave={() => setErasing(false)}
      />
    );
  const others = elsewhere.data ?? [];
  return (
    <>
      {seat.waiting && (
        <Button type="primary" disabled={busy} onClick={() => act(() => get(client.POST('/api/seats/{seat_id}/let-in', { params })))}>
          Waits after wrong PINs: let in now
        </Button>
      )}
      <Button disabled={busy} onClick={() => act(() => get(client.POST('/api/seats/{seat_id}/absent', { params, body: { absent: !seat.absent } })))}>
        {seat.absent ? 'Here after all' : 'Absent today'}
      </Button>
      {others.length > 0 && (
        <label className="field">
          <span>Is the same student as</span>
          <Select
            showSearch={{ optionFilterProp: 'label' }}
            value={others.find((o) => o.same)?.seat ?? null}
            placeholder="nobody in your other classes"
            aria-label={`${seat.name} is the same student as`}
            options={others.map((o) => ({ value: o.seat, label: `${o.name}, ${o.class_name}` }))}
            onChange={(other: number | null) =>
              other !== null && act(() => get(client.POST('/api/seats/{seat_id}/same-as', { params, body: { seat: other } })))
            }
          />
        </label>
      )}
      {children}
      <Button type="text" danger onClick={() => setErasing(true)}>
        Erase this student…
      </Button>
    </>
  );
}
