// What has changed between two states of what was handed in, part by part of its report.
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { client, get } from '@/shared/api/client';
import { TroubleWords } from './TroubleWords';
import { told } from './told';
import './part-changes.css';

/** `against`: the hand-in before, another by its number, or the lab book as it is `now`. */
export function PartChanges({ handIn, against = 'before', words }: { handIn: number; against?: string; words: string }) {
  const [open, setOpen] = useState(false);
  const found = useQuery({
    queryKey: ['hand-in-changes', handIn, against],
    queryFn: () => get(client.GET('/api/hand-ins/{hand_in_id}/changes', { params: { path: { hand_in_id: handIn }, query: { against } } })),
    enabled: open,
    retry: false,
  });
  return (
    <details className="part-changes" onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary>{words}</summary>
      <TroubleWords beside>{found.error?.message}</TroubleWords>
      {found.data?.length === 0 && <p>Nothing that is read in it.</p>}
      <dl>
        {found.data?.map((change) => (
          <div key={change.title}>
            <dt>{change.title}</dt>
            <dd>
              {told(change.words)}
              {change.before && <del>{change.before}</del>}
              {change.after && <ins>{change.after}</ins>}
            </dd>
          </div>
        ))}
      </dl>
    </details>
  );
}
