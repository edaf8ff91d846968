// What a formula comes to while it is typed: typeset, with its unit and range, or what is wrong with it and where.
import { useQuery } from '@tanstack/react-query';
import { type ColumnResult, client, get } from '@/shared/api/client';
import { Maths } from '@/shared/ui/Maths';
import { TroubleWords } from '@/shared/ui/TroubleWords';
import { useSettled } from '@/shared/ui/useSettled';
import { useBook } from './context';
import './formula-preview.css';

/** The column as it would be with a formula that is being typed; what it says lags a keystroke behind. No `quantity` is one still to be added. */
export function usePreview({ quantity, symbol }: { quantity: string; symbol: string }, formula: string): ColumnResult | undefined {
  const { state, run } = useBook(({ state, run }) => ({ state, run }));
  const settled = useSettled(formula, 180);
  const query = { quantity, symbol, formula: settled, run };
  const preview = useQuery({
    queryKey: ['preview', state.id, state.revision, query],
    queryFn: () => get(client.GET('/api/books/{book_id}/preview', { params: { path: { book_id: state.id }, query } })),
    enabled: formula !== '' && settled !== '',
    placeholderData: (before) => before,
  });
  return formula === '' ? undefined : preview.data;
}

interface Props {
  /** As it is typed. */
  text: string;
  column: ColumnResult | undefined;
  wrong: ColumnResult['trouble'] | undefined;
}

export function FormulaPreview({ text, column, wrong }: Props) {
  const at = wrong?.at ?? null;
  return (
    <>
      {column && !column.trouble && (
        <div className="derived-preview" aria-live="polite">
          <Maths tex={`${column.symbol_tex} = ${column.formula_tex}`} block />
          <p className="quiet">
            {column.unit || 'a pure number'}; {column.range_text || 'no values yet'}
            {column.largest ? `; most of its ± from ${column.largest}` : ''}
          </p>
        </div>
      )}
      {wrong && (at !== null || column) && (
        <TroubleWords beside>
          {at !== null && text && (
            <span className="mono derived-place" aria-hidden="true">
              {text.slice(0, at)}
              <b>{text.slice(at, at + 1) || '▏'}</b>
              {text.slice(at + 1)}
            </span>
          )}
          {wrong.message}
        </TroubleWords>
      )}
    </>
  );
}
