// Everybody dealt into benches: shown first, kept when it pleases.
import { Button, Radio } from 'antd';
import { useState } from 'react';
import { type Schemas, client, get } from '@/shared/api/client';
import { TroubleLine } from '@/shared/form/fields';
import { useSend } from '@/shared/form/useSend';
import type { ClassPeople } from './people';

type Way = Schemas['DealIn']['way'];
type BenchOf = Schemas['BenchOf'];

const WAYS: { value: Way; label: string }[] = [
  { value: 'random', label: 'at random' },
  { value: 'alphabet', label: 'by the alphabet' },
  { value: 'others', label: 'with others than now' },
  { value: 'last', label: 'as last time' },
];

interface Props {
  people: ClassPeople;
  practicals: number[];
  keep: (next: ClassPeople) => void;
  close: () => void;
}

export function Dealing({ people, practicals, keep, close }: Props) {
  const [size, setSize] = useState(2);
  const [way, setWay] = useState<Way>('random');
  const [dealt, setDealt] = useState<BenchOf[] | null>(null);
  const [trouble, send, busy] = useSend();
  const params = { path: { class_id: people.id } };
  const deal = () =>
    send(async () => {
      setDealt(await get(client.POST('/api/my-classes/{class_id}/deal', { params, body: { size, way } })));
    });
  const keepIt = (benches: BenchOf[]) =>
    send(async () => {
      keep(await get(client.POST('/api/my-classes/{class_id}/benches', { params, body: { benches, practicals } })));
      close();
    });
  // where nobody sits yet, nobody can sit with others than now
  const ways = WAYS.filter(({ value }) => value !== 'others' || people.benches.length > 0);
  const names = new Map(people.seats.map((seat) => [seat.id, seat.name]));
  return (
    <section className="card stack" aria-labelledby="deal-title">
      <h2 id="deal-title">Deal benches</h2>
      <Radio.Group
        value={size}
        onChange={(e) => setSize(e.target.value as number)}
        options={[2, 3, 4].map((n) => ({ value: n, label: `in ${['twos', 'threes', 'fours'][n - 2] ?? ''}` }))}
        aria-label="How many at a bench"
      />
      <Radio.Group value={way} onChange={(e) => setWay(e.target.value as Way)} options={ways} aria-label="In which way" />
      <div className="row">
        <Button type={dealt ? 'default' : 'primary'} onClick={deal} loading={busy}>
          {dealt ? 'Deal again' : 'Deal'}
        </Button>
        {dealt && (
          <Button type="primary" onClick={() => keepIt(dealt)} loading={busy}>
            Keep these benches
          </Button>
        )}
        <Button onClick={close}>Leave it as it was</Button>
      </div>
      <TroubleLine trouble={trouble} />
      {dealt && (
        <ul className="bench-cards" aria-label="Benches as they would be">
          {dealt.map((bench) => (
            <li key={bench.name} className="card">
              <h3>{bench.name}</h3>
              <ul>
                {bench.seats.map((seat) => (
                  <li key={seat}>{names.get(seat)}</li>
                ))}
              </ul>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}
