// Lab books of one's own on the start page: those that somebody has begun, and those that are shared with them.
import { useQuery } from '@tanstack/react-query';
import { Button, Dropdown } from 'antd';
import { Link, useNavigate } from 'react-router';
import { type Schemas, client, get } from '@/shared/api/client';
import { TroubleLine } from '@/shared/form/fields';
import { useSend } from '@/shared/form/useSend';
import { when } from '@/shared/ui/moments';
import { told } from '@/shared/ui/told';

/** `first`: nothing else is there to begin with. */
export function OwnBooks({ words }: { words: string }) {
  const own = useQuery({ queryKey: ['own-books'], queryFn: () => get(client.GET('/api/own-books')), refetchOnMount: 'always' });
  const navigate = useNavigate();
  const [trouble, send, busy] = useSend();
  const begin = () =>
    send(async () => {
      const made = await get(client.POST('/api/own-books'));
      await navigate(`/books/${made.id}/read`);
    });
  if (!own.data || (!own.data.may_begin && own.data.books.length === 0)) return null;
  return (
    <section className="stack own-books">
      <div className="row spread">
        <div>
          <h2>Lab books of my own</h2>
          <p className="quiet">{words}</p>
        </div>
        {own.data.may_begin && (
          <div className="row">
            <Practise onTrouble={send} />
            <Button onClick={begin} loading={busy}>
              New lab book
            </Button>
          </div>
        )}
      </div>
      <TroubleLine trouble={trouble} />
      {own.data.books.length > 0 && (
        <ul className="card own-list">
          {own.data.books.map((b) => (
            <OwnLine key={b.id} book={b} />
          ))}
        </ul>
      )}
    </section>
  );
}

/** A lab book at a simulated apparatus, for who was absent or wants to try it alone. */
function Practise({ onTrouble: send }: { onTrouble: (act: () => Promise<void>) => void }) {
  const navigate = useNavigate();
  const rigs = useQuery({ queryKey: ['rigs'], queryFn: () => get(client.GET('/api/rigs')), staleTime: Infinity });
  const begin = (rig: string) =>
    send(async () => {
      const made = await get(client.POST('/api/practise', { body: { rig } }));
      await navigate(`/books/${made.id}/read`);
    });
  return (
    <Dropdown trigger={['click']} menu={{ items: (rigs.data ?? []).map((r) => ({ key: r.key, label: r.title })), onClick: ({ key }) => begin(key) }}>
      <Button>Practise at an apparatus</Button>
    </Dropdown>
  );
}

function OwnLine({ book: b }: { book: Schemas['OwnBook'] }) {
  const names = b.names.join(', ');
  const whose = b.mine ? (names ? `with ${names}` : '') : `shared by ${names}`;
  return (
    <li>
      <Link to={`/books/${b.id}/read`}>{b.title}</Link>
      <span className="quiet">{whose}</span>
      <span className="mono">{b.trouble.length > 0 ? told(b.trouble) : b.finding}</span>
      <span className="quiet">{b.written ? when(b.written) : 'nothing written yet'}</span>
    </li>
  );
}
