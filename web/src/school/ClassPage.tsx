// A class as its teachers arrange it: the list, who sits where, the door, and what is done for one name.
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Button, Checkbox } from 'antd';
import { useState } from 'react';
import { useParams } from 'react-router';
import { type Me, client, get } from '@/shared/api/client';
import { TroubleLine } from '@/shared/form/fields';
import { useSend } from '@/shared/form/useSend';
import { Bar } from '@/shared/ui/Bar';
import { hourOrDay } from '@/shared/ui/moments';
import { useArrival } from '@/shared/ui/useArrival';
import { TroubleWords } from '@/shared/ui/TroubleWords';
import { Dealing } from './Dealing';
import { ListSheet, isListBegun } from './ListSheet';
import { type ClassPeople, type SeatLine, byBench } from './people';
import { Practicals } from './Practicals';
import { ScaleReaders } from './ScaleReaders';
import { SeatActs } from './SeatActs';
import { WholeClass } from './WholeClass';
import './school.css';

export function ClassPage({ me }: { me: Me }) {
  const main = useArrival('class');
  const id = Number(useParams().id);
  const queries = useQueryClient();
  const people = useQuery({
    queryKey: ['class', id],
    queryFn: () => get(client.GET('/api/my-classes/{class_id}', { params: { path: { class_id: id } } })),
    refetchInterval: 5000,
    refetchOnMount: 'always',
  });
  const keep = (next: ClassPeople) => queries.setQueryData(['class', id], next);
  return (
    <>
      <Bar me={me} where={<b>{people.data?.name ?? 'Class'}</b>} />
      <main className="single-page" ref={main} tabIndex={-1}>
        {people.isError && <TroubleWords>{people.error.message}</TroubleWords>}
        {people.data && <Arranged people={people.data} keep={keep} />}
      </main>
    </>
  );
}

function Arranged({ people, keep }: { people: ClassPeople; keep: (next: ClassPeople) => void }) {
  const [pasting, setPasting] = useState(() => people.seats.length === 0 || isListBegun(people.id));
  const [dealing, setDealing] = useState(false);
  const newest = people.practicals[0];
  const [reaching, setReaching] = useState(true);
  const practicals = newest && reaching ? [newest.id] : [];
  return (
    <>
      <header className="row spread">
        <div>
          <h1>{people.name}</h1>
          <p className="quiet">{[people.school, people.year, people.teachers.map((t) => t.name).join(', ')].filter(Boolean).join(' · ')}</p>
        </div>
        <Door people={people} keep={keep} />
      </header>
      {pasting ? (
        <ListSheet people={people} practicals={practicals} keep={keep} close={() => setPasting(false)} />
      ) : dealing ? (
        <Dealing people={people} practicals={practicals} keep={keep} close={() => setDealing(false)} />
      ) : (
        <>
          <div className="row">
            <Button type="primary" onClick={() => setDealing(true)}>
              Deal benches
            </Button>
            <Button onClick={() => setPasting(true)}>Paste a list</Button>
            <Button onClick={() => window.print()}>Print slips</Button>
          </div>
          {newest && (
            <Checkbox checked={reaching} onChange={(e) => setReaching(e.target.checked)} name="reaching">
              Who is moved here also moves in “{newest.title}”, which runs now. Else only from the next practical on.
            </Checkbox>
          )}
          <Benches people={people} practicals={practicals} keep={keep} />
          <Practicals people={people} />
          <ScaleReaders classId={people.id} />
          <WholeClass people={people} keep={keep} />
          <Slips people={people} />
        </>
      )}
    </>
  );
}

function Door({ people, keep }: { people: ClassPeople; keep: (next: ClassPeople) => void }) {
  const [trouble, send, busy] = useSend();
  const open = people.door_until !== null;
  const turn = () =>
    send(async () => {
      keep(await get(client.POST('/api/my-classes/{class_id}/door', { params: { path: { class_id: people.id } }, body: { open: !open } })));
    });
  return (
    <div className="door">
      <p className="join-code">
        Class code <b className="mono">{people.join_code}</b>
      </p>
      <p className="row">
        <span className="quiet">
          {people.door_until ? `Names without a PIN can be taken until ${hourOrDay(people.door_until)}.` : 'Nobody new can choose a PIN now.'}
        </span>
        <Button size="small" onClick={turn} loading={busy}>
          {open ? 'Close the door' : 'Open the door for today'}
        </Button>
      </p>
      <TroubleLine trouble={trouble} />
    </div>
  );
}

function Benches({ people, practicals, keep }: { people: ClassPeople; practicals: number[]; keep: (next: ClassPeople) => void }) {
  const [held, setHeld] = useState<SeatLine | null>(null);
  const [over, setOver] = useState<string | null>(null);
  const [trouble, send] = useSend();
  const drop = (bench: string) => {
    setOver(null);
    setHeld(null);
    if (!held || held.bench === bench) return;
    send(async () => {
      keep(await get(client.POST('/api/seats/{seat_id}/move', { params: { path: { seat_id: held.id } }, body: { bench, practicals } })));
    });
  };
  return (
    <>
      <TroubleLine trouble={trouble} />
      <ul className="bench-cards">
        {byBench(people).map(({ bench, seats }) => (
          <li
            key={bench}
            className={`card${bench ? '' : ' nowhere'}${held && over === bench && held.bench !== bench ? ' over' : ''}`}
            onDragOver={(e) => {
              e.preventDefault();
              setOver(bench);
            }}
            onDrop={(e) => {
              e.preventDefault();
              drop(bench);
            }}
          >
            <h2>{bench || 'At no bench yet'}</h2>
            {seats.length === 0 && <p className="quiet">Nobody.</p>}
            <ul>
              {seats.map((seat) => (
                <li key={seat.id} draggable onDragStart={() => setHeld(seat)} onDragEnd={() => setHeld(null)} className={seat.absent ? 'absent' : ''}>
                  <span>
                    {seat.name}
                    {!seat.has_pin && <span className="quiet"> · no PIN yet</span>}
                    {seat.absent && <span className="quiet"> · absent today</span>}
                    {seat.waiting && <span className="tag warn"> waits to come in</span>}
                  </span>
                  <SeatActs seat={seat} people={people} practicals={practicals} keep={keep} />
                </li>
              ))}
            </ul>
          </li>
        ))}
      </ul>
    </>
  );
}

/** What is printed and laid out in the room: how to come in, and who sits where. */
function Slips({ people }: { people: ClassPeople }) {
  return (
    <section className="slips" aria-hidden>
      <h1>{people.name}</h1>
      <p>
        Open <b>{window.location.origin}</b> and type this class code. Then choose your name, and a PIN that only you know.
      </p>
      <p className="slips-code mono">{people.join_code}</p>
      <ul>
        {byBench(people).map(({ bench, seats }) => (
          <li key={bench}>
            <b>{bench || 'At no bench yet'}</b>
            {seats.map((seat) => (
              <span key={seat.id}>{seat.name}</span>
            ))}
          </li>
        ))}
      </ul>
    </section>
  );
}
