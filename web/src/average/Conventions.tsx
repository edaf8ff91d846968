// What other conventions would give: every spread of the repeats side by side, and the four ways of carrying uncertainties.
import { useQuery } from '@tanstack/react-query';
import { Radio } from 'antd';
import { useState } from 'react';
import { client, get } from '@/shared/api/client';
import { useBook } from '@/shared/book/context';
import { DECIMAL_MARKS, type DecimalMark } from '@/shared/book/decimalMark';
import { useConvention } from '@/shared/book/useConvention';
import { Sheet } from '@/shared/ui/Sheet';
import { told } from '@/shared/ui/told';
import { TroubleWords } from '@/shared/ui/TroubleWords';
import { SymbolSelect } from '@/shared/ui/SymbolSelect';

export function Conventions({ onClose }: { onClose: () => void }) {
  const { state, quantities, plainSymbolOf } = useBook(({ state, quantities, plainSymbolOf }) => ({ state, quantities, plainSymbolOf }));
  const options = (kinds: string[]) =>
    quantities.filter((q) => kinds.includes(q.kind)).map((q) => ({ value: q.id, label: `${plainSymbolOf(q.id)} ${q.name}` }));
  const measured = options(['measured', 'changed']);
  const derived = options(['derived']);
  const repeated = quantities.find((q) => q.repeats > 1)?.id ?? measured[0]?.value ?? '';
  const [spread, setSpread] = useState(repeated);
  const [way, setWay] = useState(derived[0]?.value ?? '');
  return (
    <Sheet title="What each convention would give" onClose={onClose}>
      <div className="conventions">
        <section>
          <div className="row">
            <h3>The repeats of</h3>
            <SymbolSelect aria-label="Measured quantity" value={spread} options={measured} onChange={setSpread} popupMatchSelectWidth={false} />
          </div>
          <Spreads quantity={spread} />
        </section>
        {derived.length > 0 && (
          <section>
            <div className="row">
              <h3>Carried through to</h3>
              <SymbolSelect aria-label="Derived quantity" value={way} options={derived} onChange={setWay} popupMatchSelectWidth={false} />
            </div>
            <Ways quantity={way} />
          </section>
        )}
        {state.can_edit && state.document.freedoms.plan && <MarkChoice />}
      </div>
    </Sheet>
  );
}

function Spreads({ quantity }: { quantity: string }) {
  const { state, run } = useBook(({ state, run }) => ({ state, run }));
  const { choose } = useConvention();
  const { freedoms } = state.document;
  const free = state.can_edit && (freedoms.plan || freedoms.spread);
  const table = useQuery({
    queryKey: ['conventions', state.id, state.revision, quantity, run],
    queryFn: () => get(client.GET('/api/books/{book_id}/conventions', { params: { path: { book_id: state.id }, query: { quantity, run } } })),
    placeholderData: (before) => before,
  });
  if (table.isError) return <TroubleWords>{table.error.message}</TroubleWords>;
  if (!table.data) return null;
  const { columns, settings, instrument, unit } = table.data;
  return (
    <>
      <table className="conventions-table">
        <thead>
          <tr>
            <th scope="col">setting</th>
            {columns.map((c) => (
              <th key={c.name} scope="col" className={c.chosen ? 'chosen' : undefined}>
                {c.name}
                {free && !c.chosen && (
                  <button
                    type="button"
                    className="plain-button collect"
                    aria-label={`Use ${c.name}`}
                    onClick={() => choose('spread', c.kind, `± is made by ${c.name} now.`)}
                  >
                    use this
                  </button>
                )}
              </th>
            ))}
            <th scope="col">the instrument alone</th>
          </tr>
        </thead>
        <tbody>
          {settings.map((s, i) => (
            <tr key={s}>
              <th scope="row">{s}</th>
              {columns.map((c) => (
                <td key={c.name} className={`mono${c.chosen ? ' chosen' : ''}`}>
                  {c.values[i] || '–'}
                </td>
              ))}
              <td className="mono">{instrument[i]}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="quiet">
        {unit ? `All in ${unit}. ` : ''}
        {free ? 'Tinted: the one that is used.' : 'Tinted: the one that this class uses. The teacher chooses it in the plan.'}
      </p>
    </>
  );
}

/** Of a lab book of one's own: any other has that of its class. */
function MarkChoice() {
  const { convention, choose } = useConvention();
  return (
    <section>
      <h3>Numbers are shown with</h3>
      <Radio.Group
        aria-label="Numbers are shown with"
        value={convention.decimal_mark}
        options={DECIMAL_MARKS}
        onChange={(e) => choose('decimal_mark', e.target.value as DecimalMark)}
      />
    </section>
  );
}

function Ways({ quantity }: { quantity: string }) {
  const { state, run } = useBook(({ state, run }) => ({ state, run }));
  const { choose } = useConvention();
  const free = state.can_edit && state.document.freedoms.plan;
  const table = useQuery({
    queryKey: ['ways', state.id, state.revision, quantity, run],
    queryFn: () => get(client.GET('/api/books/{book_id}/ways', { params: { path: { book_id: state.id }, query: { quantity, run } } })),
    placeholderData: (before) => before,
  });
  if (table.isError) return <TroubleWords>{table.error.message}</TroubleWords>;
  if (!table.data) return null;
  return (
    <>
      <table className="conventions-table ways">
        <tbody>
          {table.data.rows.map((r) => (
            <tr key={r.way} className={r.chosen ? 'chosen' : undefined}>
              <th scope="row">
                {r.words}
                {free && !r.chosen && (
                  <button
                    type="button"
                    className="plain-button collect"
                    aria-label={`Use ${r.words}`}
                    onClick={() => choose('propagation', r.way, `± through formulas now: ${r.words}.`)}
                  >
                    use this
                  </button>
                )}
              </th>
              <td className="mono">{r.value}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="quiet">At {table.data.setting}, with the ± of everything that it rests on.</p>
      {table.data.warning.length > 0 && <p className="notice">{told(table.data.warning)}</p>}
    </>
  );
}
