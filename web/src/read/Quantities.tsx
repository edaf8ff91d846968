// The quantities of a lab book: what the plan gave, what the bench has added, and changing those with everything that depends on them.
import { Button } from 'antd';
import { useState } from 'react';
import type { Quantity } from '@/shared/api/client';
import { useBook, useBookStore } from '@/shared/book/context';
import { Maths } from '@/shared/ui/Maths';
import { Rich } from '@/shared/ui/Rich';
import { Sheet } from '@/shared/ui/Sheet';
import { isWorded } from '@/shared/book/quantities';
import { QuantityForm } from './QuantityForm';

const KIND = { changed: 'changed', measured: 'measured', constant: 'measured once', derived: 'derived' } as const;

/** Typeset; as it was typed where it cannot be read. */
function formulaOf(typed: string, tex: string | undefined) {
  return tex ? (
    <>
      = <Maths tex={tex} />
    </>
  ) : (
    `= ${typed}`
  );
}

/** `first` is the quantity whose definition is open at once; empty for none. */
export function Quantities({ first, onClose }: { first: string; onClose: () => void }) {
  const { state, analysis, quantities, run } = useBook(({ state, analysis, quantities, run }) => ({ state, analysis, quantities, run }));
  const store = useBookStore();
  // a link to a quantity may be quicker than the quantity
  const [awaited, setAwaited] = useState(first);
  const [open, setOpen] = useState<{ quantity: Quantity | null } | null>(null);
  const come = quantities.find((q) => q.id === awaited);
  if (come) {
    setAwaited('');
    setOpen({ quantity: come });
  }
  const [written, setWritten] = useState(false);
  const columns = analysis.runs[0]?.columns ?? [];
  const free = state.document.freedoms;
  const ownValue = (q: Quantity) => q.kind === 'constant' && state.document.plan.own_values.includes(q.id);
  const changeable = (q: Quantity) => !q.given || ownValue(q) || (q.kind !== 'derived' && (free.units || (free.instruments && q.kind !== 'constant')));
  const left = [
    quantities.some((q) => q.given && ownValue(q)) ? 'its own value of what is measured once' : '',
    free.own_quantities ? 'quantities of your own' : '',
    free.repeats ? 'how often each setting is measured' : '',
    free.instruments ? 'what is read from which instrument' : '',
    free.units ? 'the units' : '',
    free.spread ? 'by which spread repeats get their ± (in Average)' : '',
  ].filter(Boolean);
  const describe = (q: Quantity) => {
    const column = columns.find((c) => c.quantity === q.id);
    if (isWorded(q)) return 'words';
    return q.kind === 'constant'
      ? (column?.constant?.text ?? 'no value yet')
      : q.kind === 'derived'
        ? q.formula
          ? formulaOf(q.formula, column?.formula_tex)
          : 'no formula yet'
        : (column?.instrument_text ?? '');
  };
  const place = (q: Quantity) => quantities.indexOf(q);
  return (
    <Sheet title={state.plan === null ? 'Quantities of this lab book' : 'Quantities of this plan'} onClose={onClose}>
      <table className="quantities">
        <tbody>
          {quantities.map((q) => {
            const column = columns.find((c) => c.quantity === q.id);
            return (
              <tr key={q.id}>
                <th scope="row">
                  {isWorded(q) ? '–' : column ? <Rich text={column.symbol} /> : <i>{q.symbol}</i>}
                  {column?.unit && <span className="quiet"> / {column.unit}</span>}
                </th>
                <td>{q.name}</td>
                <td className="quiet">{KIND[q.kind]}</td>
                <td className="mono">
                  {describe(q)}
                  {q.source && <span className="quiet quantities-source"> {q.source}</span>}
                </td>
                <td className="quantities-acts">
                  {q.given && <span className="quiet">{ownValue(q) ? 'your own value' : 'given by the plan'}</span>}
                  {state.can_edit && changeable(q) && (
                    <Button size="small" type="text" onClick={() => setOpen(open?.quantity?.id === q.id ? null : { quantity: q })}>
                      Change
                    </Button>
                  )}
                  {state.can_edit && !q.given && (
                    <>
                      {free.plan && q.kind === 'measured' && q.repeats === 1 && (
                        <Button
                          size="small"
                          type="text"
                          onClick={() => store.edit({ type: 'exchange_columns', run, quantity: q.id }, `${q.name} is the first column now.`)}
                        >
                          Swap with the first
                        </Button>
                      )}
                      {q.kind === 'measured' && place(q) > 1 && (
                        <Button
                          size="small"
                          type="text"
                          aria-label={`Move ${q.name} to the left in the table`}
                          onClick={() => store.edit({ type: 'move_quantity', quantity: q.id, to: place(q) - 1 })}
                        >
                          ←
                        </Button>
                      )}
                      <Button
                        size="small"
                        type="text"
                        danger
                        onClick={() => store.edit({ type: 'remove_quantity', quantity: q.id }, `${q.name} was removed with its readings.`)}
                      >
                        Remove
                      </Button>
                    </>
                  )}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <p className="quiet space-above">
        {state.plan !== null
          ? 'This is what benches get. What they may change of it is said in the margin.'
          : free.plan
            ? 'Nothing is given here: all of it is yours.'
            : left.length
              ? `The plan leaves to the bench: ${left.join(', ')}.`
              : 'The plan says what is measured here, how often, and with what.'}
      </p>
      {state.can_edit && free.own_quantities && !open && (
        <Button autoFocus={written} className="space-above" onClick={() => setOpen({ quantity: null })}>
          Add a quantity
        </Button>
      )}
      {open && (
        <QuantityForm
          key={open.quantity?.id}
          quantity={open.quantity}
          free={free}
          ownValue={open.quantity !== null && ownValue(open.quantity)}
          onDone={() => {
            setOpen(null);
            setWritten(true);
          }}
        />
      )}
    </Sheet>
  );
}
