// The margin beside a hand-in: the marking grid with what can be seen, and the answer.
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Button } from 'antd';
import { Link } from 'react-router';
import { type Schemas, client, get } from '@/shared/api/client';
import { spokenDate } from '@/shared/ui/moments';
import { TroubleWords } from '@/shared/ui/TroubleWords';
import { AnswerForm } from './AnswerForm';
import { MarkRow } from './MarkRow';
import { factsOf, otherFacts } from './facts';

interface Props {
  bench: Schemas['QueuedBench'];
  handIn: Schemas['QueuedHandIn'];
  grid: readonly Schemas['GridRowOut'][];
  onSaid: () => void;
  onNext: (() => void) | undefined;
}

export function Marks({ bench, handIn, grid, onSaid, onNext }: Props) {
  const queries = useQueryClient();
  const key = ['hand-in', handIn.id];
  const found = useQuery({
    queryKey: key,
    queryFn: () => get(client.GET('/api/hand-ins/{hand_in_id}', { params: { path: { hand_in_id: handIn.id } } })),
    retry: false,
  });
  const data = found.data;
  const say = (said: Schemas['MarksAndAnswer']) => {
    queries.setQueryData(key, (before: Schemas['MarkedHandIn'] | undefined) => before && { ...before, ...said });
    onSaid();
  };
  const again = () => queries.invalidateQueries({ queryKey: key });
  const others = data ? otherFacts(grid, data.facts) : [];
  return (
    <aside className="marking-margin" aria-label={`Marks of ${bench.bench}`}>
      <div>
        <h2>
          {bench.bench} <span className="quiet">hand-in {handIn.number}</span>
        </h2>
        <p className="quiet">
          {bench.names.length > 0 && (
            <>
              {bench.names.join(', ')}
              <br />
            </>
          )}
          {spokenDate(handIn.at)}, by {handIn.by} {handIn.late && <span className="tag warn marking-late">late</span>}
        </p>
        <p>
          <Link to={`/books/${bench.book}/report`}>The lab book, to leave remarks in</Link>
          {bench.changed_since && <span className="quiet">: it has changed since</span>}
        </p>
      </div>
      {found.isError && <TroubleWords>{found.error.message}</TroubleWords>}
      {!data && !found.isError && <p className="quiet">Looking it over …</p>}
      {data && (
        <>
          {grid.length > 0 && <h2>Marking grid</h2>}
          {grid.map((row) => (
            <MarkRow
              key={row.id}
              handIn={handIn.id}
              row={row}
              facts={factsOf(row, data.facts)}
              mark={data.marks.find((m) => m.row === row.id)}
              before={data.marks_before.find((m) => m.row === row.id)}
              onSaid={say}
              onClash={again}
            />
          ))}
          {grid.length === 0 && <p className="quiet">The plan of this practical has no marking grid. It can be given one, and this practical put right.</p>}
          {others.length > 0 && (
            <details className="other-facts" open={grid.length === 0}>
              <summary>{grid.length === 0 ? 'What can be seen' : 'What else can be seen'}</summary>
              <ul className="mark-facts">
                {others.map((fact) => (
                  <li key={fact.text}>{fact.text}</li>
                ))}
              </ul>
            </details>
          )}
          <AnswerForm handIn={handIn.id} answer={data.answer} onSaid={say} onClash={again} />
          {onNext && <Button onClick={onNext}>Next that waits</Button>}
        </>
      )}
    </aside>
  );
}
