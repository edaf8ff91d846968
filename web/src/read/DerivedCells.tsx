// What is worked out beside the readings: the mean of repeats, and derived quantities with the formula in their heading.
import type { ColumnResult, Quantity } from '@/shared/api/client';
import { Maths } from '@/shared/ui/Maths';
import { NumberLink } from '@/shared/ui/Number';
import { Rich, plain } from '@/shared/ui/Rich';

interface CellProps {
  run: string;
  row: string;
  result: ColumnResult | undefined;
  /** Place among what the server has computed; −1 where it has not seen the setting yet. */
  index: number;
  mean?: boolean;
}

/** How a quantity is called over a cell, where there is no room to typeset it. */
export function headOf(quantity: Pick<Quantity, 'symbol'>, result: ColumnResult | undefined): string {
  return result ? plain(result.symbol) : quantity.symbol;
}

export function ResultCell({ run, row, result, index, mean = false }: CellProps) {
  const cell = index >= 0 ? result?.cells[index] : undefined;
  const className = mean ? 'ruled-mean' : 'ruled-mean ruled-derived';
  if (!result || !cell || cell.value === null || cell.value === undefined) return <td className={className} />;
  const words = `${cell.value_text}${cell.u_text ? ` plus or minus ${cell.u_text}` : ''}`;
  return (
    <td className={className} data-head={`${mean ? 'mean ' : ''}${plain(result.symbol)}${result.unit && ` / ${result.unit}`}`}>
      <NumberLink of={`cell:${run}:${row}:${result.quantity}`} label={mean ? `mean ${words}` : words} inTable>
        {cell.value_text}
        {cell.u_text && <span className="ruled-u"> ± {cell.u_text}</span>}
      </NumberLink>
    </td>
  );
}

export function DerivedHeading({ quantity: q, result }: { quantity: Quantity; result: ColumnResult | undefined }) {
  return (
    <th scope="col" className="ruled-heading ruled-derived-heading" title={result?.trouble?.message}>
      <span className="ruled-symbol">
        {result ? <Rich text={result.symbol} /> : <i>{q.symbol}</i>}
        {result?.unit ? <span className="ruled-unit"> / {result.unit}</span> : null}
      </span>
      {q.name !== q.symbol && <span className="ruled-name">{q.name}</span>}
      {result?.formula_tex && (
        <span className="ruled-formula">
          <Maths tex={result.formula_tex} />
        </span>
      )}
    </th>
  );
}
