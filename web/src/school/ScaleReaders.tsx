// Who of a class has read scales of simulated apparatus, and who of them reads to the mark only.
import { useQuery } from '@tanstack/react-query';
import { type Schemas, client, get } from '@/shared/api/client';

const WORDS: Record<Schemas['ReadingHabit']['habit'], string> = {
  too_few: 'too few to say',
  to_the_mark: 'reads to the mark only',
  between_marks: 'estimates between the marks',
};

export function ScaleReaders({ classId }: { classId: number }) {
  const readers = useQuery({
    queryKey: ['scales', classId],
    queryFn: () => get(client.GET('/api/my-classes/{class_id}/scales', { params: { path: { class_id: classId } } })),
  });
  // a class that has read none need not know that it could
  if (!readers.data?.length) return null;
  return (
    <section className="stack">
      <h2>Reading scales</h2>
      <p className="quiet">What was read on the scales of simulated apparatus, the last hundred times of each student.</p>
      <div className="scale-readers-scroll">
        <table className="scale-readers">
          <thead>
            <tr>
              <th scope="col">Student</th>
              <th scope="col">Readings</th>
              <th scope="col">At a mark</th>
              <th scope="col">Typically off by</th>
              <th scope="col">How</th>
            </tr>
          </thead>
          <tbody>
            {readers.data.map(({ seat, name, habit }) => (
              <tr key={seat}>
                <th scope="row">{name}</th>
                <td>{habit.count}</td>
                <td>{habit.at_marks}</td>
                <td>{habit.off}</td>
                <td className={habit.habit === 'to_the_mark' ? 'tag warn' : 'quiet'}>{WORDS[habit.habit]}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}
