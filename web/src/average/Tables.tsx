// The tables of reference that the plan gives: what is listed, where it is from, and how a formula looks it up.
import { useBook } from '@/shared/book/context';
import { Graph } from '@/shared/graph/Graph';
import { Rich } from '@/shared/ui/Rich';
import { tidyUnit, writeU } from '@/shared/ui/withUnit';

export function Tables() {
  const { analysis, state } = useBook(({ analysis, state }) => ({ analysis, state }));
  const { tables } = state.document.plan;
  if (!tables.length) return null;
  return (
    <section className="average-section">
      <h2>Tables to look things up in</h2>
      {tables.map((t) => {
        const mark = analysis.tables.find((m) => m.table === t.id);
        const symbol = <Rich text={mark?.symbol ?? []} />;
        return (
          <details key={t.id} className="reference">
            <summary>
              {symbol} {t.name}
              {t.of_name && <span className="quiet"> against {t.of_name}</span>}
            </summary>
            {mark?.trouble && <p className="notice">{mark.trouble.message}</p>}
            <p className="quiet">
              In a formula <span className="mono">{`${t.symbol}(…)`}</span> is what stands here for it, straight between two lines
              {t.u && <>, ± {writeU(t.u, t.unit)}</>}.{t.source && ` From: ${t.source}.`}
            </p>
            <div className="reference-both">
              {mark?.figure && <Graph figure={mark.figure} height={260} />}
              <table className="average-table">
                <thead>
                  <tr>
                    <th scope="col">
                      {t.of_name || 'at'}
                      {t.of_unit && ` / ${t.of_unit}`}
                    </th>
                    <th scope="col">
                      {symbol}
                      {t.unit && ` / ${/[/ ]/.test(t.unit) ? `(${tidyUnit(t.unit)})` : tidyUnit(t.unit)}`}
                    </th>
                  </tr>
                </thead>
                <tbody>
                  {t.lines.map((line, i) => (
                    <tr key={i}>
                      <td>{line.at}</td>
                      <td>{line.value}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </div>
          </details>
        );
      })}
    </section>
  );
}
