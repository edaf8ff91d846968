// The plans of a teacher on the start page: those that they write, and those that colleagues share with them.
import { useQuery } from '@tanstack/react-query';
import { Button } from 'antd';
import { Link, useNavigate } from 'react-router';
import { client, get } from '@/shared/api/client';
import { TroubleLine } from '@/shared/form/fields';
import { useSend } from '@/shared/form/useSend';

export function Plans() {
  const plans = useQuery({ queryKey: ['plans'], queryFn: () => get(client.GET('/api/plans')), refetchOnMount: 'always' });
  const navigate = useNavigate();
  const [trouble, send, busy] = useSend();
  const begin = () =>
    send(async () => {
      const made = await get(client.POST('/api/plans', { body: {} }));
      await navigate(`/books/${made.id}/ask`);
    });
  if (!plans.data) return null;
  return (
    <section className="stack own-books">
      <div className="row spread">
        <div>
          <h2>My plans</h2>
          <p className="quiet">Write one beside what benches will see, try it dry, give it out.</p>
        </div>
        <Button onClick={begin} loading={busy}>
          New plan
        </Button>
      </div>
      <TroubleLine trouble={trouble} />
      {plans.data.length > 0 && (
        <ul className="card own-list">
          {plans.data.map((p) => (
            <li key={p.id}>
              <Link to={`/books/${p.book}/ask`}>{p.title}</Link>
              <span className="quiet">{p.mine ? '' : 'a colleague’s'}</span>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}
