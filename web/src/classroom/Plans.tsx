// The plans of a teacher on the start page: those that they write, and those that colleagues share with them.
import { useQuery } from '@tanstack/react-query';
import { Button } from 'antd';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { type Schemas, client, get, upload } from '@/shared/api/client';
import { TroubleLine } from '@/shared/form/fields';
import { useSend } from '@/shared/form/useSend';
import { FileButton } from '@/shared/ui/FileButton';

export function Plans() {
  const plans = useQuery({ queryKey: ['plans'], queryFn: () => get(client.GET('/api/plans')), refetchOnMount: 'always' });
  const navigate = useNavigate();
  const [trouble, send, busy] = useSend();
  const [shelf, setShelf] = useState(false);
  const begin = (of: Schemas['NewPlanIn']) =>
    send(async () => {
      const made = await get(client.POST('/api/plans', { body: of }));
      await navigate(`/books/${made.id}/ask`);
    });
  const bring = (chosen: File) =>
    send(async () => {
      const form = new FormData();
      form.append('file', chosen);
      const made = await upload<Schemas['BegunBook']>('/api/plans/file', form);
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
        <div className="row">
          <Button onClick={() => setShelf(!shelf)} aria-expanded={shelf}>
            From the shelf
          </Button>
          <FileButton label="A plan that was taken out" accept=".json,application/json" loading={busy} onFile={bring}>
            From a file
          </FileButton>
          <Button type="primary" onClick={() => begin({})} loading={busy}>
            New plan
          </Button>
        </div>
      </div>
      <TroubleLine trouble={trouble} />
      {shelf && <Shelf busy={busy} onTake={(key) => begin({ shelf: key })} />}
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

/** The plans that ship with Hobrel: each is taken as a copy of one's own. */
function Shelf({ busy, onTake }: { busy: boolean; onTake: (key: string) => void }) {
  const shelf = useQuery({ queryKey: ['shelf'], queryFn: () => get(client.GET('/api/shelf')), staleTime: Infinity });
  if (!shelf.data) return <p className="quiet">Looking on the shelf …</p>;
  const subjects = [...new Set(shelf.data.map((p) => p.subject))];
  return (
    <div className="card shelf">
      {subjects.map((subject) => (
        <section key={subject} aria-label={subject}>
          <h3>{subject}</h3>
          <ul>
            {shelf.data
              .filter((p) => p.subject === subject)
              .map((p) => (
                <li key={p.key}>
                  <div>
                    <b>{p.title}</b>
                    <span className="quiet">{p.question}</span>
                  </div>
                  <Button size="small" disabled={busy} aria-label={`Take “${p.title}” as a plan of mine`} onClick={() => onTake(p.key)}>
                    Take it
                  </Button>
                </li>
              ))}
          </ul>
        </section>
      ))}
    </div>
  );
}
