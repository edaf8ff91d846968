// What the benches have handed in: the queue, the paper as it was handed in, and what a teacher says to it.
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Link, useNavigate, useParams } from 'react-router';
import { type Me, type Schemas, client, get } from '@/shared/api/client';
import { Bar } from '@/shared/ui/Bar';
import { TroubleWords } from '@/shared/ui/TroubleWords';
import { useArrival } from '@/shared/ui/useArrival';
import { Queue } from './Queue';
import { MarksBack, TakeOut } from './MarksBack';
import { Marks } from './Marks';
import { Papers } from './Papers';
import { firstToOpen, nextWaiting, stateOf } from './facts';
import './marking.css';

const EVERY = 3000;

export function Marking({ me }: { me: Me }) {
  const { practical = '', handIn = '' } = useParams();
  const main = useArrival(practical);
  const navigate = useNavigate();
  const queries = useQueryClient();
  const id = Number(practical);
  const key = ['hand-ins', id];
  const found = useQuery({
    queryKey: key,
    queryFn: () => get(client.GET('/api/practicals/{practical_id}/hand-ins', { params: { path: { practical_id: id } } })),
    refetchInterval: EVERY,
  });
  const queue = found.data;
  const chosen = handIn ? Number(handIn) : queue ? firstToOpen(queue.benches) : null;
  const bench = queue?.benches.find((b) => b.hand_ins.some((h) => h.id === chosen));
  const handed = bench?.hand_ins.find((h) => h.id === chosen);
  const waiting = queue?.benches.filter((b) => stateOf(b) === 'waits').length ?? 0;
  const next = queue && chosen !== null ? nextWaiting(queue.benches, chosen) : null;
  const keep = (queue: Schemas['QueueOut']) => queries.setQueryData(key, queue);
  return (
    <>
      <Bar me={me} where={<b>{queue ? `${queue.class_name} · ${queue.title}` : 'Hand-ins'}</b>} />
      <main className="marking" ref={main} tabIndex={-1}>
        <nav className="marking-queue" aria-label="Hand-ins">
          <h1>Hand-ins</h1>
          {found.isError && <TroubleWords>{found.error.message}</TroubleWords>}
          {queue && (
            <>
              <p className="quiet">
                {waiting === 0 ? 'None waits for an answer.' : waiting === 1 ? '1 waits for an answer.' : `${waiting} wait for an answer.`}
              </p>
              <Queue practical={id} queue={queue} chosen={chosen} />
              <MarksBack practical={id} queue={queue} onChanged={keep} />
              <TakeOut practical={id} />
              <p className="marking-ways">
                <Link to={`/practicals/${id}/walkround`}>Walkround</Link> · <Link to={`/practicals/${id}/pool`}>Pool</Link>
              </p>
            </>
          )}
        </nav>
        {queue && bench && handed ? (
          <>
            <Papers key={`papers ${handed.id}`} bench={bench} handIn={handed} />
            <Marks
              key={handed.id}
              bench={bench}
              handIn={handed}
              grid={queue.grid}
              onSaid={() => void queries.invalidateQueries({ queryKey: key })}
              onNext={next === null ? undefined : () => void navigate(`/practicals/${id}/hand-ins/${next}`)}
            />
          </>
        ) : (
          queue && (
            <p className="notice marking-none">
              {handIn ? 'This hand-in is not among those of this practical.' : 'Nothing has been handed in yet. What a bench hands in stands here at once.'}
            </p>
          )
        )}
      </main>
    </>
  );
}
