// How the plan went when it was given out before: what many stumbled over, how long it took, what the class found, what could be changed.
import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { type Schemas, client, get } from '@/shared/api/client';
import { Fold } from '@/shared/ui/Fold';
import { stageNames } from '@/shared/ui/MiniTrail';
import { spokenDate } from '@/shared/ui/moments';
import { Typeset } from '@/shared/ui/Typeset';

export function LastTime({ planId, book }: { planId: number; book: number }) {
  const found = useQuery({
    queryKey: ['last-time', planId],
    queryFn: () => get(client.GET('/api/plans/{plan_id}/last-time', { params: { path: { plan_id: planId } } })),
    staleTime: 60_000,
    retry: false,
  });
  if (!found.data?.length) return null;
  return (
    <Fold words="How it went before" className="last-time">
      {found.data.map((time) => (
        <OneTime key={time.class_name + time.given_out} time={time} book={book} />
      ))}
    </Fold>
  );
}

function OneTime({ time, book }: { time: Schemas['EarlierTime']; book: number }) {
  return (
    <section>
      <h3>
        {time.class_name} {time.year && <span className="quiet">{time.year}</span>}
      </h3>
      <p className="quiet">
        {spokenDate(time.given_out)}, {time.benches === 1 ? '1 bench' : `${time.benches} benches`}
      </p>
      {time.values.map((v) => (
        <p key={v.name}>
          {v.name}: <span className="mono">{v.value}</span> {v.accepted && <span className="quiet">accepted {v.accepted}</span>}
        </p>
      ))}
      {time.slips.length > 0 && (
        <ul>
          {time.slips.map((s) => (
            <li key={s.words.text + s.of}>
              {s.of && `${s.of}: `}
              <Typeset text={s.words.text} /> <span className="quiet">{s.benches === 1 ? '1 bench' : `${s.benches} benches`}</span>
            </li>
          ))}
        </ul>
      )}
      {time.minutes.length > 0 && (
        <p className="quiet">Minutes, in the middle: {time.minutes.map((m) => `${stageNames[m.stage]} ${Math.max(1, Math.round(m.minutes))}`).join(', ')}</p>
      )}
      {time.advice.map((a) => (
        <p key={a.words.text} className="slip plan-note">
          <Link to={`/books/${book}/${a.stage}`}>{stageNames[a.stage]}</Link>: <Typeset text={a.words.text} />
        </p>
      ))}
    </section>
  );
}
