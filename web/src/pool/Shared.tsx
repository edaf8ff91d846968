// What a class shares beside its findings: conditions beside each other, all points with the class's line, every setting.
import type { Schemas } from '@/shared/api/client';
import { Graph } from '@/shared/graph/Graph';
import { plain } from '@/shared/ui/Rich';
import { told } from '@/shared/ui/told';
import { Explained } from '@/shared/words/Explained';
import { Rich } from '@/shared/ui/Rich';
import { Typeset } from '@/shared/ui/Typeset';

type Data = Schemas['ClassData'];

export function ConditionsBeside({ tables }: { tables: Data['conditions'] }) {
  return tables.map((table) => (
    <section key={table.name} className="card beside-conditions">
      <h2>
        {table.name} <span className="quiet">under each condition</span>
      </h2>
      <table>
        <tbody>
          {table.rows.map((row) => (
            <tr key={row.condition}>
              <th scope="row">
                {row.condition} <span className="quiet">{told(row.coverage)}</span>
              </th>
              <td className="mono beside-value">{row.value ? row.value.text : '–'}</td>
              <td>
                <ul className="beside-benches">
                  {row.benches.map(({ bench, text }) => (
                    <li key={bench} className="tag" title={text} data-light={bench}>
                      {bench} <span className="mono">{text}</span>
                    </li>
                  ))}
                </ul>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {table.words.length > 0 && (
        <p>
          <Explained text={told(table.words)} />
        </p>
      )}
    </section>
  ));
}

export function AllPoints({ data }: { data: Data }) {
  if (!data.figure) return data.undrawn.length > 0 ? <p className="notice">The points of all benches are not drawn: {told(data.undrawn)}</p> : null;
  return (
    <section className="card">
      <h2>
        <Typeset text={data.figure.title} />
      </h2>
      <Graph figure={data.figure} height={380} residuals={false} />
      {data.lines.map((line) => (
        <p key={line.condition} className="class-line">
          {line.condition && `${line.condition}: `}
          {line.gradient ? (
            <>
              <b>The class’s line</b> has the gradient <span className="mono">{line.gradient.text}</span>
              {line.intercept && (
                <>
                  {' '}
                  and the intercept <span className="mono">{line.intercept.text}</span>
                </>
              )}
              .{' '}
            </>
          ) : (
            'No line of the class yet. '
          )}
          <span className="quiet">{told(line.words)}</span>
        </p>
      ))}
    </section>
  );
}

/** Every setting at which several benches have read the same. */
export function Settings({ tables }: { tables: Data['tables'] }) {
  if (tables.length === 0) return null;
  return (
    <details className="card class-settings">
      <summary>Every setting, over all benches</summary>
      {tables.map((table) => (
        <div key={`${table.condition} ${plain(table.symbol)}`} className="class-settings-scroll">
          <table>
            <caption>
              {table.condition && `${table.condition}: `}
              <Rich text={table.symbol} />
              {table.unit && ` in ${table.unit}`}. Each bench counts the same; the ± is from how the benches differ.
            </caption>
            <thead>
              <tr>
                <th scope="col">
                  <i>{plain(table.along)}</i>
                  {table.along_unit && ` / ${table.along_unit}`}
                </th>
                <th scope="col">class mean</th>
                <th scope="col">benches</th>
                <th scope="col">readings</th>
                <th scope="col">
                  within benches <i>s</i>
                </th>
                <th scope="col">
                  between benches <i>s</i>
                </th>
                <td />
              </tr>
            </thead>
            <tbody>
              {table.rows.map((row) => (
                <tr key={row.at}>
                  <th scope="row" className="mono">
                    {row.at}
                  </th>
                  <td className="mono">{row.mean.text}</td>
                  <td>{row.benches}</td>
                  <td>{row.readings}</td>
                  <td className="mono">{row.within || '–'}</td>
                  <td className="mono">{row.between || '–'}</td>
                  <td className="quiet">{told(row.words)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      ))}
    </details>
  );
}
