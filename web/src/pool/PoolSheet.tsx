// The pool of one finding: the benches on a number line, the class value, who is off and why.
import type { ReactNode } from 'react';
import type { Schemas } from '@/shared/api/client';
import { Rich } from '@/shared/ui/Rich';
import { told } from '@/shared/ui/told';
import { Explained } from '@/shared/words/Explained';
import { ClassLineOf } from './ClassLineOf';
import { Typeset } from '@/shared/ui/Typeset';

type PoolResult = Schemas['PoolResult'];

/** The benches without a value by what is said of them, so that one reason is said once. */
function bySentence(rows: PoolResult['rows']): [string, string[]][] {
  const found = new Map<string, string[]>();
  for (const r of rows) if (!r.value) found.set(told(r.missing), [...(found.get(told(r.missing)) ?? []), r.bench]);
  return [...found];
}

export function PoolSheet({ pool: p, children }: { pool: PoolResult; children: ReactNode }) {
  const quoted = p.values.find((v) => v.recommended);
  return (
    <section className="stack">
      {quoted && (
        <p className="pool-quoted">
          <Rich text={p.symbol} /> = {quoted.value.text}{' '}
          <span className="quiet">
            {p.condition && `${p.condition}: `}
            {quoted.kind === 'mandel_paule'
              ? `${told(p.counted, '; ')}, ${quoted.name.toLowerCase()}`
              : `${quoted.name.toLowerCase()} ${told(p.counted, '; ')}`}
          </span>
        </p>
      )}
      <div className="pool-grid">
        <div className="card">
          <ClassLineOf pool={p} />
          {p.rows
            .filter((r) => r.pointed_out.length > 0)
            .map((r) => (
              <p key={r.bench} className="notice bad pool-odd">
                <b>{r.bench}</b> {r.value?.text}: <Typeset text={told(r.pointed_out)} /> Nothing of it is deleted.
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
            <p>
              <Typeset text={told(p.reason)} />
            </p>
            <p className="quiet">
              <Explained text={told(p.consistency)} />
            </p>
            <p className="quiet">
              <Explained text={told(p.spread)} />
            </p>
          </div>
        )}
      </div>
      {children}
    </section>
  );
}
