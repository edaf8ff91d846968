// Pool: the class's findings on one number line, conditions beside each other, all points on one graph, every setting.
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Button, Segmented } from 'antd';
import { type ReactNode, useState } from 'react';
import { type Schemas, client, get } from '@/shared/api/client';
import { useBook } from '@/shared/book/context';
import { TroubleWords } from '@/shared/ui/TroubleWords';
import { Benches } from './Benches';
import { PoolSheet } from './PoolSheet';
import { Projected } from './Projected';
import { AllPoints, ConditionsBeside, Settings } from './Shared';
import './pool.css';

export function PoolStage() {
  const { state } = useBook(({ state }) => ({ state }));
  if (state.practical === null) return <p className="notice">This lab book has no class to pool with.</p>;
  return <Pool practical={state.practical} teacher={state.can_remark} />;
}

export function Pool({ practical, teacher }: { practical: number; teacher: boolean }) {
  const queries = useQueryClient();
  const key = ['pool', practical];
  const params = { path: { practical_id: practical } };
  const pool = useQuery({
    queryKey: key,
    queryFn: () => get(client.GET('/api/practicals/{practical_id}/pool', { params })),
    refetchInterval: 3000,
  });
  const [projected, setProjected] = useState(false);
  if (pool.isError)
    return (
      <>
        <h1>The class’s pool</h1>
        <TroubleWords>{pool.error.message}</TroubleWords>
      </>
    );
  if (!pool.data)
    return (
      <p className="quiet" role="status">
        Bringing the benches together …
      </p>
    );
  const open = (wanted: boolean) => {
    void get(client.POST('/api/practicals/{practical_id}/pool', { params, body: { open: wanted } })).then((next) => queries.setQueryData(key, next));
  };
  const again = () => void queries.invalidateQueries({ queryKey: key });
  return (
    <>
      <div className="stage-head">
        <h1>
          {pool.data.class_name}: {pool.data.title}
        </h1>
        {teacher && (
          <>
            <Button type={pool.data.pool_open ? 'default' : 'primary'} onClick={() => open(!pool.data.pool_open)}>
              {pool.data.pool_open ? 'Close the pool to students' : 'Open the pool to students'}
            </Button>
            <Button onClick={() => setProjected(true)}>On the projector</Button>
          </>
        )}
        <span className="quiet">{pool.data.pool_open ? 'The benches can see the pool.' : 'Only you can see the pool.'}</span>
      </div>
      {projected && <Projected pool={pool.data} onEnd={() => setProjected(false)} />}
      <NotOpened benches={pool.data.benches} />
      <ConditionsBeside tables={pool.data.shared.conditions} />
      <Pools pools={pool.data.pools}>
        {(shown) => teacher && <Benches practical={practical} benches={pool.data.benches} pool={shown} onChanged={again} />}
      </Pools>
      <AllPoints data={pool.data.shared} />
      <Settings tables={pool.data.shared.tables} />
    </>
  );
}

function NotOpened({ benches }: { benches: readonly Schemas['PoolBench'][] }) {
  const idle = benches.filter((b) => !b.opened).map((b) => b.bench);
  if (idle.length === 0) return null;
  return (
    <p className="quiet">
      Nobody has opened it at: <b>{idle.join(', ')}</b>
    </p>
  );
}

/** The pools of all findings; under one condition at a time, where there are several. */
function Pools({ pools, children }: { pools: readonly Schemas['PoolResult'][]; children: (pool: Schemas['PoolResult']) => ReactNode }) {
  const conditions = [...new Set(pools.map((p) => p.condition))];
  const [chosen, setChosen] = useState('');
  const shown = conditions.includes(chosen) ? chosen : (conditions[0] ?? '');
  if (pools.length === 0)
    return (
      <p className="notice">
        The plan names no finding that every bench looks for, so there is none to pool. What a bench has found for itself stands in its lab book.
      </p>
    );
  return (
    <>
      {conditions.length > 1 && (
        <div className="pool-conditions">
          <Segmented aria-label="The pool under" value={shown} onChange={setChosen} options={conditions.map((c) => ({ value: c, label: c }))} />
        </div>
      )}
      {pools
        .filter((p) => p.condition === shown)
        .map((p) => (
          <PoolSheet key={p.finding + p.condition} pool={p}>
            {children(p)}
          </PoolSheet>
        ))}
    </>
  );
}
