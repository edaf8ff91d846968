// What has changed in what was handed in, since it was handed in before.
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { client, get } from '@/shared/api/client';
import { TroubleWords } from '@/shared/ui/TroubleWords';
import { told } from '@/shared/ui/told';

export function Changes({ handIn }: { handIn: number }) {
  const [open, setOpen] = useState(false);
  const found = useQuery({
    queryKey: ['hand-in-changes', handIn],
    queryFn: () => get(client.GET('/api/hand-ins/{hand_in_id}/changes', { params: { path: { hand_in_id: handIn } } })),
    enabled: open,
    retry: false,
  });
  return (
    <details className="hand-in-changes" onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary>What has changed since the one before</summary>
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
