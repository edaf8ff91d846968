// Tables of reference that formulas look things up in: pasted as two columns, or typed line by line.
import { Input } from 'antd';
import { useDecimalMark } from '@/shared/book/context';
import { withMark } from '@/shared/book/decimalMark';
import type { Schemas } from '@/shared/api/client';
import { newId } from '@/shared/book/newId';
import { Labelled } from '@/shared/ui/Labelled';
import { Bare, Items, usePlanField } from './fields';
import { changed, without } from './lists';
import { usePlan } from './usePlan';
import { LETTER_BY_LETTER } from '@/shared/ui/Exact';

type Table = Schemas['ReferenceTable'];
type Line = Schemas['TableLine'];

const MOST_LINES = 500;

export function TableFields() {
  const { plan, write, typed } = usePlan();
  const { tables } = plan;
  const having = (i: number, part: Partial<Table>) => ({ tables: changed(tables, i, part) });
  const added = (): Table => ({ id: newId('t'), name: 'New table', symbol: '', unit: '', of_name: '', of_unit: '', lines: [], u: '', source: '' });
  return (
    <Items
      label="Tables of reference"
      items={tables}
      keyOf={(t) => t.id}
      add="Add a table"
      onAdd={() => write({ tables: [...tables, added()] })}
      onRemove={(i) => write({ tables: without(tables, i) })}
    >
      {(t, i) => (
        <div className="plan-table">
          <Bare label={`Name of table ${i + 1}`} value={t.name} hint="density of water" needed onWrite={typed((name) => having(i, { name }))} />
          <div className="row">
            <Labelled words="symbol">
              <Bare label={`Symbol of table ${i + 1}`} mono width={84} most={30} value={t.symbol} hint="ρ" onWrite={typed((symbol) => having(i, { symbol }))} />
            </Labelled>
            <Labelled words="unit">
              <Bare label={`Unit of table ${i + 1}`} mono width={72} most={80} value={t.unit} hint="kg/m^3" onWrite={typed((unit) => having(i, { unit }))} />
            </Labelled>
            <Labelled words="±">
              <Bare label={`± of every line of table ${i + 1}`} mono width={50} most={60} value={t.u} onWrite={typed((u) => having(i, { u }))} />
            </Labelled>
          </div>
          <div className="row">
            <Labelled words="against">
              <Bare
                label={`What table ${i + 1} is listed against`}
                value={t.of_name}
                hint="temperature"
                most={80}
                onWrite={typed((of_name) => having(i, { of_name }))}
              />
            </Labelled>
            <Labelled words="in">
              <Bare
                label={`Unit that table ${i + 1} is listed against`}
                mono
                width={60}
                most={80}
                value={t.of_unit}
                hint="°C"
                onWrite={typed((of_unit) => having(i, { of_unit }))}
              />
            </Labelled>
          </div>
          <Bare
            label={`Source of table ${i + 1}`}
            value={t.source}
            hint="from which handbook, which edition"
            onWrite={typed((source) => having(i, { source }))}
          />
          <Lines number={i + 1} lines={t.lines} onWrite={typed((lines) => having(i, { lines }))} />
          {t.symbol && (
            <p className="quiet">
              In a formula: <span className="mono">{`${t.symbol}(…)`}</span>
            </p>
          )}
        </div>
      )}
    </Items>
  );
}

/** Two columns as one text, kept when it is left. */
function Lines({ number, lines, onWrite }: { number: number; lines: readonly Line[]; onWrite: (lines: Line[], stood?: Line[]) => void }) {
  const write = (text: string, stood?: string) => onWrite(readLines(text), stood === undefined ? undefined : readLines(stood));
  const field = usePlanField(writeLines(lines), write, { spell: (typed) => writeLines(readLines(typed)) });
  return (
    <Input.TextArea
      {...LETTER_BY_LETTER}
      aria-label={`Lines of table ${number}: where, then what is listed there`}
      className="mono"
      placeholder={withMark('20\t998.21\n25\t997.05', useDecimalMark())}
      autoSize={{ minRows: 3, maxRows: 12 }}
      {...field}
    />
  );
}

const writeLines = (lines: readonly Line[]) => lines.map((line) => `${line.at}\t${line.value}`).join('\n');

/** Where a line is, and behind the first gap what is listed there. What is no number stays, and is said to be none. */
function readLines(text: string): Line[] {
  return text
    .split(/\r?\n/)
    .map((line) => line.trim())
    .filter(Boolean)
    .slice(0, MOST_LINES)
    .map((line) => {
      const [at = '', ...rest] = line.split(/[\t;]|\s+/);
      return { at: at.slice(0, 60), value: rest.join(' ').trim().slice(0, 60) };
    });
}
