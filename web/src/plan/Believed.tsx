// What a dry run believes of the world: values that nobody knows, how hands scatter, how long things take.
import { useState } from 'react';
import { useBook } from '@/shared/book/context';
import { isWorded, measuredIn } from '@/shared/book/quantities';
import { Bare } from './fields';
import { usePlan } from './usePlan';
import { Typeset } from '@/shared/ui/Typeset';
import { letterOf } from '@/shared/ui/symbolsIn';
import { tidyUnit } from '@/shared/ui/withUnit';

type Part = 'truths' | 'unknowns' | 'formulas' | 'scatter' | 'seconds';

/** `lacks` is a symbol of the relation that nobody has said a value of. */
export function Believed({ lacks }: { lacks: string }) {
  const { state, quantities, plainSymbolOf } = useBook(({ state, quantities, plainSymbolOf }) => ({ state, quantities, plainSymbolOf }));
  const { plan, typed } = usePlan();
  // what is lacking first is said a moment after the sheet has opened: its field, which may be there, then has the focus
  const [begun, setBegun] = useState(lacks);
  if (!begun && lacks) setBegun(lacks);
  const dry: Record<Part, Record<string, string>> = {
    truths: plan.dry.truths,
    unknowns: plan.dry.unknowns,
    formulas: plan.dry.formulas,
    scatter: plan.dry.scatter,
    seconds: plan.dry.seconds,
  };
  const having = (part: Part, key: string, text: string) => {
    const now = { ...dry[part] };
    if (text) now[key] = text;
    else Reflect.deleteProperty(now, key);
    return { dry: { ...dry, [part]: now } };
  };
  const set = (part: Part, key: string) => typed((text: string) => having(part, key, text));
  const measured = measuredIn(quantities);
  const read = quantities.filter((q) => (q.kind === 'measured' || q.kind === 'changed') && !isWorded(q));
  const unknowns = state.document.fits.flatMap((f) => f.unknowns);
  const findings = state.document.findings.filter((f) => f.uses.every((i) => i.kind !== 'unknown'));
  const asked = [...new Set([...findings.map((f) => f.symbol), ...Object.keys(dry.truths), ...(lacks ? [lacks] : [])])];
  return (
    <>
      <table className="believed">
        <thead>
          <tr>
            <th scope="col">quantity</th>
            <th scope="col">hand’s scatter</th>
            <th scope="col">seconds each</th>
            <th scope="col">follows from</th>
          </tr>
        </thead>
        <tbody>
          {read.map((q) => (
            <tr key={q.id}>
              <th scope="row">
                <i>
                  <Typeset text={plainSymbolOf(q.id)} />
                </i>
                {q.unit && <span className="quiet"> / {tidyUnit(q.unit)}</span>}
              </th>
              <td>
                {q.kind === 'measured' && (
                  <Bare label={`Scatter of a hand’s ${q.name}`} mono width={86} value={dry.scatter[q.id] ?? ''} hint="usual" onWrite={set('scatter', q.id)} />
                )}
              </td>
              <td>
                <Bare label={`Seconds for one ${q.name}`} mono width={66} value={dry.seconds[q.id] ?? ''} hint="usual" onWrite={set('seconds', q.id)} />
              </td>
              <td>
                {measured.includes(q) && (
                  <Bare
                    label={`What ${q.name} follows from`}
                    mono
                    most={400}
                    value={dry.formulas[q.id] ?? ''}
                    hint="the relation"
                    onWrite={set('formulas', q.id)}
                  />
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="quiet">
        A scatter is in the unit of its heading, or a share of the reading: 3&nbsp;%. A formula may be written between the numbers of the headings: 2.1 + 3.4 c.
      </p>
      <h3>In truth</h3>
      <ul className="believed-truths">
        {asked.map((symbol) => (
          <li key={symbol === begun ? `${symbol} first` : symbol}>
            <span>
              <i>
                <Typeset text={letterOf(symbol)} />
              </i>{' '}
              =
            </span>
            <Bare
              label={`What ${letterOf(symbol)} truly is`}
              autoFocus={symbol === lacks}
              mono
              width={150}
              value={dry.truths[symbol] ?? ''}
              hint={state.document.findings.some((f) => f.symbol === symbol && f.accepted) ? 'as accepted' : '12.4 GPa'}
              onWrite={set('truths', symbol)}
            />
          </li>
        ))}
        {unknowns.map((u) => (
          <li key={u.id}>
            <span>{u.name} =</span>
            <Bare
              label={`What ${u.name} truly is`}
              mono
              width={150}
              value={dry.unknowns[u.id] ?? ''}
              hint={`in ${quantities.find((q) => q.kind === 'changed')?.unit || 'numbers'}`}
              onWrite={set('unknowns', u.id)}
            />
          </li>
        ))}
        <li>
          <NewTruth onWrite={(symbol, text) => set('truths', symbol)(text)} />
        </li>
      </ul>
    </>
  );
}

/** Another symbol that only the relation has, with its value: “N_0 = 412 mV”. */
function NewTruth({ onWrite }: { onWrite: (symbol: string, text: string) => void }) {
  return (
    <Bare
      label="Another value, as symbol = value unit"
      mono
      width={220}
      value=""
      hint="another: N_0 = 412 mV"
      onWrite={(text) => {
        const [symbol = '', value = ''] = text.split('=').map((part) => part.trim());
        if (symbol && value) onWrite(symbol, value);
      }}
    />
  );
}
