// The pool on a page of its own, for the teacher.
import { useParams } from 'react-router';
import type { Me } from '@/shared/api/client';
import { Bar } from '@/shared/ui/Bar';
import { useLights } from '@/shared/ui/lights';
import { useArrival } from '@/shared/ui/useArrival';
import { Pool } from '@/pool/Pool';

export function PoolPage({ me }: { me: Me }) {
  const { practical = '' } = useParams();
  const main = useArrival(practical);
  useLights();
  return (
    <>
      <Bar me={me} where={<b>Pool</b>} />
      <main className="single-page" ref={main} tabIndex={-1}>
        <Pool practical={Number(practical)} teacher={me.role === 'teacher'} />
      </main>
    </>
  );
}
