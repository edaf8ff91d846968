// The headings of the ruled table: of what is read off, those that are still to be written, and of what is derived.
import type { Quantity } from '@/shared/api/client';
import { useBook, useBookStore } from '@/shared/book/context';
import { DerivedHeading } from './DerivedCells';
import { Heading } from './Heading';
import { NewHeadings } from './NewHeadings';
import type { Headings } from './useHeadings';
import type { TableNotes } from './SettingBand';

interface Props {
  columns: Quantity[];
  derived: Quantity[];
  notes: TableNotes;
  widths: ReadonlyMap<string, number>;
  headings: Headings;
  editable: boolean;
  onPasteTable: (text: string) => void;
}

export function TableHead({ columns, derived, notes, widths, headings, editable, onPasteTable }: Props) {
  const { state } = useBook(({ state }) => ({ state }));
  const store = useBookStore();
  const repeatsFree = state.document.freedoms.repeats;
  return (
    <thead>
      <tr>
        <th className="ruled-gutter">
          <span className="hidden-but-heard">Noticed</span>
        </th>
        {columns.map((q) => (
          <Heading
            key={q.id}
            quantity={q}
            result={notes.columns.get(q.id)}
            width={widths.get(q.id)}
            draft={headings.drafts.find((d) => d.quantity === q.id)}
            onRewrite={headings.free && !q.given ? (text) => headings.write(text, q.id, false) : null}
            repeatsFree={editable && (repeatsFree || !q.given)}
            onRepeats={(quantity, repeats) =>
              store.edit(
                { type: 'set_repeats', quantity: quantity.id, repeats },
                repeats < quantity.repeats ? `The last repeat of ${quantity.symbol} was removed.` : '',
              )
            }
          />
        ))}
        {headings.adds && <NewHeadings made={columns.length} {...headings} onPaste={onPasteTable} />}
        {derived.map((q) => (
          <DerivedHeading key={q.id} quantity={q} result={notes.columns.get(q.id)} />
        ))}
      </tr>
    </thead>
  );
}
