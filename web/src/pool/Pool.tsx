// Pool: the class's findings on one number line, the class value, who is off and why, and all points on one graph.
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Button } from 'antd';
import type { ReactNode } from 'react';
import { type Schemas, client, get } from '@/shared/api/client';
import { useBook } from '@/shared/book/context';
import { Graph } from '@/shared/graph/Graph';
import { type LineMark, NumberLine } from '@/shared/graph/NumberLine';
import { plain } from '@/shared/ui/Rich';
import { told } from '@/shared/ui/told';
import { Explained } from '@/shared/words/Explained';
import { TroubleWords } from '@/shared/ui/TroubleWords';
import { Benches } from './Benches';
import { DotLine } from './DotLine';
import './pool.css';

type PoolResult = Schemas['PoolResult'];

/** From so many benches on each is a dot. */
const MANY = 24;

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
  return (
    <>
      <div className="stage-head">
        <h1>
          {pool.data.class_name}: {pool.data.title}
        </h1>
        {teacher && (
          <Button type={pool.data.pool_open ? 'default' : 'primary'} onClick={() => open(!pool.data.pool_open)}>
            {pool.data.pool_open ? 'Close the pool to students' : 'Open the pool to students'}
          </Button>
        )}
        <span className="quiet">{pool.data.pool_open ? 'The benches can see the pool.' : 'Only you can see the pool.'}</span>
      </div>
      {pool.data.pools.map((p) => (
        <PoolSheet key={p.name} pool={p}>
          {teacher && (
            <Benches practical={practical} benches={pool.data.benches} pool={p} onChanged={() => void queries.invalidateQueries({ queryKey: key })} />
          )}
        </PoolSheet>
      ))}
    </>
  );
}

/** The benches without a value by what is said of them, so that one reason is said once. */
function bySentence(rows: PoolResult['rows']): [string, string[]][] {
  const found = new Map<string, string[]>();
  for (const r of rows) if (!r.value) found.set(told(r.missing), [...(found.get(told(r.missing)) ?? []), r.bench]);
  return [...found];
}

function PoolSheet({ pool: p, children }: { pool: PoolResult; children: ReactNode }) {
  const quoted = p.values.find((v) => v.recommended);
  const marks: LineMark[] = p.rows
    .filter((r) => r.value)
    .map((r) => ({
      name: r.bench,
      value: r.value?.value ?? 0,
      u: r.value?.u ?? 0,
      // more than can be told apart by shape are alike
      look: p.rows.length > 8 ? 0 : r.look,
      tone: r.pointed_out.length > 0 ? 'odd' : 'plain',
      note: r.value?.text ?? '',
    }));
  if (p.accepted) marks.push({ name: 'accepted', value: p.accepted.value, u: p.accepted.u ?? 0, look: 6, tone: 'accepted', note: p.accepted.text });
  const band = quoted ? { value: quoted.value.value, u: quoted.value.u ?? 0 } : null;
  return (
    <section className="stack">
      {quoted && (
        <p className="pool-quoted">
          <i>{plain(p.symbol)}</i> = {quoted.value.text}{' '}
          <span className="quiet">
            {quoted.name.toLowerCase()} {told(p.counted, '; ')}
          </span>
        </p>
      )}
      <div className="pool-grid">
        <div className="card">
          {p.number_line && marks.length > MANY ? (
            <DotLine line={p.number_line} marks={marks} band={band} />
          ) : p.number_line ? (
            <NumberLine line={p.number_line} marks={marks} band={band} />
          ) : (
            <p className="notice">{told(p.reason)}</p>
          )}
          {p.rows
            .filter((r) => r.pointed_out.length > 0)
            .map((r) => (
              <p key={r.bench} className="notice bad pool-odd">
                <b>{r.bench}</b> {r.value?.text}: {told(r.pointed_out)} Nothing of it is deleted.
              </p>
            ))}
          {bySentence(p.rows).map(([words, benches]) => (
            <p key={words} className="quiet pool-missing">
              <b>{benches.join(', ')}</b>: {words}
            </p>
          ))}
        </div>
        {p.values.length > 0 && (
          <div className="card pool-values">
            <h2>Class value</h2>
            <table>
              <tbody>
                {p.values.map((v) => (
                  <tr key={v.kind} className={v.recommended ? 'recommended' : ''}>
                    <th scope="row">
                      {v.name}
                      <span className="quiet">
                        <Explained text={told(v.words)} />
                      </span>
                    </th>
                    <td className="mono">{v.value.text}</td>
                  </tr>
                ))}
              </tbody>
            </table>
            <p>{told(p.reason)}</p>
            <p className="quiet">
              <Explained text={told(p.consistency)} />
            </p>
            <p className="quiet">
              <Explained text={told(p.spread)} />
            </p>
          </div>
        )}
      </div>
      {p.figure && (
        <div className="card">
          <h2>{p.figure.title}</h2>
          <Graph figure={p.figure} height={380} residuals={false} />
        </div>
      )}
      {children}
    </section>
  );
}
