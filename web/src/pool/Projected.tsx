// The pool for the whole class on a projector: benches come up as they hand in, and nobody sees a value before the page is turned over.
import { Button } from 'antd';
import { useState } from 'react';
import type { Schemas } from '@/shared/api/client';
import { Rich } from '@/shared/ui/Rich';
import { told } from '@/shared/ui/told';
import { useWholeScreen } from '@/shared/ui/useWholeScreen';
import { ClassLineOf } from './ClassLineOf';

export function Projected({ pool, onEnd }: { pool: Schemas['PoolOut']; onEnd: () => void }) {
  const [turned, setTurned] = useState(false);
  const { sheet, first } = useWholeScreen();
  const handed = pool.benches.filter((b) => b.handed_in).length;
  const numberOf = new Map(pool.benches.map((b, i) => [b.bench, `Bench ${i + 1}`]));
  const nameOf = (bench: string) => (pool.shows_names ? bench : (numberOf.get(bench) ?? bench));
  return (
    <dialog ref={sheet} className="projected" aria-label="The pool for everybody" onClose={onEnd}>
      <h1>
        {pool.class_name}: {pool.title}
      </h1>
      {turned ? (
        pool.pools.map((p) => {
          const quoted = p.values.find((v) => v.recommended);
          return (
            <section key={p.finding + p.condition} className="projected-pool">
              <h2>
                {p.name}
                {p.condition && `, ${p.condition}`}
              </h2>
              {quoted && (
                <p className="projected-value">
                  <Rich text={p.symbol} /> = {quoted.value.text}
                </p>
              )}
              <ClassLineOf pool={p} nameOf={nameOf} quietly />
              {p.values.length === 0 && <p>{told(p.reason)}</p>}
            </section>
          );
        })
      ) : (
        <>
          <p className="projected-count" aria-live="polite">
            {handed} of {pool.benches.length} benches have handed in
          </p>
          <ol className="projected-cards" aria-label="Benches">
            {pool.benches.map((b, i) => (
              <li key={b.bench} className={b.handed_in ? 'in' : ''}>
                <b>{i + 1}</b>
                <span>{b.handed_in ? 'handed in' : 'at work'}</span>
              </li>
            ))}
          </ol>
        </>
      )}
      <div className="row projected-keys">
        <Button type="primary" ref={first} onClick={() => setTurned(!turned)}>
          {turned ? 'Turn it back' : 'Turn the page over'}
        </Button>
        <Button type="text" onClick={() => sheet.current?.close()}>
          End
        </Button>
      </div>
    </dialog>
  );
}
