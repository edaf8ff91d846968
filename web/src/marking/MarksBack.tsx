// When the class sees its marks; and what can be taken out of a practical for other programs.
import { Button } from 'antd';
import { type Schemas, client, get } from '@/shared/api/client';
import { TroubleLine } from '@/shared/form/fields';
import { useSend } from '@/shared/form/useSend';
import { spokenDate } from '@/shared/ui/moments';

export function MarksBack({ practical, queue, onChanged }: { practical: number; queue: Schemas['QueueOut']; onChanged: (queue: Schemas['QueueOut']) => void }) {
  const [trouble, send, busy] = useSend();
  const give = (given_back: boolean) =>
    send(async () => {
      onChanged(await get(client.POST('/api/practicals/{practical_id}/marks-back', { params: { path: { practical_id: practical } }, body: { given_back } })));
    });
  const ahead = queue.marks_back !== null && !queue.given_back;
  return (
    <div className="marks-back">
      <p className="quiet">
        {queue.given_back
          ? `The benches see their marks since ${spokenDate(queue.marks_back ?? '')}.`
          : ahead
            ? `The benches see their marks from ${spokenDate(queue.marks_back ?? '')}.`
            : 'Nobody of the class sees marks yet.'}
      </p>
      <Button size="small" loading={busy} onClick={() => give(!queue.given_back)}>
        {queue.given_back ? 'Take the marks back' : 'Give the marks back now'}
      </Button>
      <TroubleLine trouble={trouble} />
    </div>
  );
}

const FILES = [
  ['marks.xlsx', 'Marks (XLSX)'],
  ['marks.csv', 'Marks (CSV)'],
  ['pool.csv', 'Findings (CSV)'],
  ['readings.csv', 'Every reading, a row each (CSV)'],
  ['readings.xlsx', 'Every reading, a row each (XLSX)'],
  ['reports.zip', 'All reports as PDF'],
  ['archive.zip', 'All of it in one archive'],
] as const;

export function TakeOut({ practical }: { practical: number }) {
  return (
    <details className="marks-out">
      <summary>Take out</summary>
      <ul>
        {FILES.map(([file, words]) => (
          <li key={file}>
            <a href={`/api/practicals/${practical}/${file}`} download>
              {words}
            </a>
          </li>
        ))}
      </ul>
      <p className="quiet">The archive has the tables with a description of every column (CSVW), the reports, and every lab book as a file.</p>
    </details>
  );
}
