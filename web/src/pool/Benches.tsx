// Every bench of a pool in a table, for its teachers: its value, its lab book, and leaving it out with a reason.
import { Button, Input } from 'antd';
import { Link } from 'react-router';
import { type Schemas, client, get } from '@/shared/api/client';
import { TroubleLine } from '@/shared/form/fields';
import { useSend } from '@/shared/form/useSend';
import { told } from '@/shared/ui/told';
import { useDraft } from '@/shared/ui/useDraft';

type Bench = Schemas['PoolBench'];

interface Props {
  practical: number;
  benches: readonly Bench[];
  pool: Schemas['PoolResult'];
  onChanged: () => void;
}

export function Benches({ practical, benches, pool, onChanged }: Props) {
  return (
    <details className="card pool-benches">
      <summary>All benches, and who counts</summary>
      <table>
        <tbody>
          {benches.map((bench) => (
            <BenchRow key={bench.bench} bench={bench} row={pool.rows.find((r) => r.bench === bench.bench)} onChanged={onChanged} />
          ))}
        </tbody>
      </table>
      <a href={`/api/practicals/${practical}/pool.csv`} download>
        As a table (CSV)
      </a>
    </details>
  );
}

function BenchRow({ bench, row, onChanged }: { bench: Bench; row: Schemas['PoolRow'] | undefined; onChanged: () => void }) {
  const [reason, setReason] = useDraft<string>(`left out ${bench.book}`);
  const [trouble, send, busy] = useSend();
  const change = (text: string) => {
    if (bench.book === null) return;
    const book_id = bench.book;
    send(async () => {
      await get(client.POST('/api/books/{book_id}/left-out', { params: { path: { book_id } }, body: { reason: text } }));
      setReason(null);
      onChanged();
    });
  };
  return (
    <tr data-light={bench.bench}>
      <th scope="row">{bench.book === null ? bench.bench : <Link to={`/books/${bench.book}/find`}>{bench.bench}</Link>}</th>
      <td className="mono">{row?.value ? row.value.text : <span className="quiet">{told(row?.missing ?? [])}</span>}</td>
      <td>
        {bench.left_out ? (
          <Button size="small" type="text" loading={busy} onClick={() => change('')}>
            take in again
          </Button>
        ) : reason === null ? (
          <Button size="small" type="text" onClick={() => setReason('')}>
            leave out …
          </Button>
        ) : (
          <form
            className="row"
            onSubmit={(e) => {
              e.preventDefault();
              change(reason);
            }}
          >
            <Input
              size="small"
              autoFocus
              aria-label={`Why is ${bench.bench} left out?`}
              placeholder="why? The class reads it"
              value={reason}
              maxLength={300}
              onChange={(e) => setReason(e.target.value)}
              onKeyDown={(e) => e.key === 'Escape' && setReason(null)}
            />
            <Button size="small" htmlType="submit" loading={busy} disabled={!reason.trim()}>
              Leave out
            </Button>
          </form>
        )}
        <TroubleLine trouble={trouble} fields={[]} />
      </td>
    </tr>
  );
}
