// Putting a practical right while it runs: what has changed in its plan, which lab books take it, and taking it back.
import { useQuery } from '@tanstack/react-query';
import { Button, Checkbox } from 'antd';
import { useState } from 'react';
import { type Schemas, client, get } from '@/shared/api/client';
import { TroubleLine } from '@/shared/form/fields';
import { useSend } from '@/shared/form/useSend';
import { Sheet } from '@/shared/ui/Sheet';
import { benchName } from '@/shared/ui/benchName';
import { TroubleWords } from '@/shared/ui/TroubleWords';

type Practical = Schemas['RunningPractical'];
type Fate = Schemas['BookFateOut'];

const FATES: Record<Fate['fate'], string> = {
  takes: 'takes it',
  same: 'has it already',
  stands: 'keeps its own',
  breaks: 'is left as it is',
};

export function Amending({ practical: p, again }: { practical: Practical; again: () => Promise<void> }) {
  const [open, setOpen] = useState(false);
  const [kept, setKept] = useState<string[]>([]);
  const [trouble, send, busy] = useSend();
  const back = () =>
    send(async () => {
      const answer = await get(client.POST('/api/practicals/{practical_id}/amendment/back', { params: { path: { practical_id: p.id } } }));
      setKept(answer.benches);
      await again();
    });
  return (
    <>
      {p.behind && (
        <Button size="small" onClick={() => setOpen(true)}>
          Its plan has changed
        </Button>
      )}
      {p.amended && (
        <Button size="small" type="text" loading={busy} onClick={back}>
          Take the amendment back
        </Button>
      )}
      {kept.length > 0 && <span className="quiet">{kept.join(', ')} built on it, so it stays there.</span>}
      <TroubleLine trouble={trouble} />
      {open && <AmendSheet practical={p} again={again} onClose={() => setOpen(false)} />}
    </>
  );
}

function AmendSheet({ practical: p, again, onClose }: { practical: Practical; again: () => Promise<void>; onClose: () => void }) {
  const path = { params: { path: { practical_id: p.id } } };
  const look = useQuery({
    queryKey: ['amendment', p.id],
    queryFn: () => get(client.GET('/api/practicals/{practical_id}/amendment', path)),
    staleTime: 0,
    gcTime: 0,
  });
  const [anyway, setAnyway] = useState<number[]>([]);
  const [trouble, send, busy] = useSend();
  const amend = () =>
    send(async () => {
      await get(client.POST('/api/practicals/{practical_id}/amendment', { ...path, body: { anyway } }));
      await again();
      onClose();
    });
  return (
    <Sheet title={`Amend “${p.title}” while it runs`} onClose={onClose}>
      {look.isError && <TroubleWords>{look.error.message}</TroubleWords>}
      {look.data && (
        <div className="stack amending">
          <div>
            <p className="quiet">Changed in the plan since it was given out:</p>
            <ul>
              {look.data.changes.map((change) => (
                <li key={change}>{change}</li>
              ))}
            </ul>
          </div>
          {look.data.books.length === 0 ? (
            <p className="quiet">No bench has opened it yet; each will get it as the plan is now.</p>
          ) : (
            <table>
              <tbody>
                {look.data.books.map((b) => (
                  <tr key={b.book}>
                    <th scope="row">{benchName(b.bench, 'Bench')}</th>
                    <td>{FATES[b.fate]}</td>
                    <td className="quiet">
                      {b.words}
                      {b.fate === 'breaks' && (
                        <Checkbox
                          checked={anyway.includes(b.book)}
                          onChange={(e) => setAnyway(e.target.checked ? [...anyway, b.book] : anyway.filter((book) => book !== b.book))}
                        >
                          all the same
                        </Checkbox>
                      )}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
          <TroubleLine trouble={trouble} />
          <div className="row">
            <Button type="primary" loading={busy} onClick={amend}>
              Amend it
            </Button>
            <span className="quiet">One change in each lab book, by you; it can be taken back in one step.</span>
          </div>
        </div>
      )}
    </Sheet>
  );
}
