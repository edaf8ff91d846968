// Unknowns that are read back from the line or curve of the standards: each with its readings, as a list that stays.
import { Button, Input } from 'antd';
import type { Schemas } from '@/shared/api/client';
import { useBook, useDecimalMark } from '@/shared/book/context';
import { withMark } from '@/shared/book/decimalMark';
import { newId } from '@/shared/book/newId';
import { CollectButton } from '@/shared/ui/CollectButton';
import { Labelled } from '@/shared/ui/Labelled';
import { plain } from '@/shared/ui/Rich';
import { told } from '@/shared/ui/told';
import { Typeset } from '@/shared/ui/Typeset';
import { Exact } from '@/shared/ui/Exact';
import { useDraft } from '@/shared/ui/useDraft';
import { useField } from '@/shared/ui/useTyped';
import { apart } from './readingsApart';

interface Props {
  fit: Schemas['Fit'];
  card: Schemas['FitResult'];
  figure: Schemas['Figure'];
  editable: boolean;
  onPlace: (part: Partial<Schemas['Fit']>) => void;
}

function Readings({ label, texts, onWrite }: { label: string; texts: readonly string[]; onWrite: (texts: string[]) => void }) {
  const mark = useDecimalMark();
  const shown = texts.map((text) => withMark(text, mark)).join('  ');
  const field = useField(shown, (typed) => onWrite(apart(typed)), { spell: (typed) => apart(typed).join('  ') });
  return (
    <Exact size="small" aria-label={label} maxLength={400} placeholder={withMark('3.71 3.74', mark)} {...field} onPressEnter={(e) => e.currentTarget.blur()} />
  );
}

export function Unknowns({ fit, card, figure, editable, onPlace }: Props) {
  const mark = useDecimalMark();
  const { id } = useBook(({ state }) => ({ id: state.id }));
  const [draft, keep] = useDraft<{ name: string; readings: string }>(`unknown ${id} ${fit.id}`);
  const { name, readings } = draft ?? { name: '', readings: '' };
  const add = () => {
    onPlace({ unknowns: [...fit.unknowns, { id: newId('u'), name: name.trim(), readings: apart(readings) }] });
    keep(null);
  };
  const [x, y] = [plain(figure.x_axis.label), plain(figure.y_axis.label)];
  return (
    <details className="graph-more" open={fit.unknowns.length > 0 || draft !== null || undefined}>
      <summary>Unknowns to read back from this {card.shape === 'line' ? 'line' : 'curve'}</summary>
      {card.unknowns.length > 0 && (
        <table className="unknowns">
          <thead>
            <tr>
              <th scope="col">unknown</th>
              <th scope="col">
                <Typeset text={y} />
              </th>
              <th scope="col">
                <Typeset text={x} />
              </th>
              <td />
            </tr>
          </thead>
          <tbody>
            {card.unknowns.map((u) => (
              <tr key={u.unknown}>
                <th scope="row">{u.name}</th>
                <td>
                  {editable ? (
                    <Readings
                      label={`Every reading of ${u.name}`}
                      texts={fit.unknowns.find((o) => o.id === u.unknown)?.readings ?? []}
                      onWrite={(texts) => onPlace({ unknowns: fit.unknowns.map((o) => (o.id === u.unknown ? { ...o, readings: texts } : o)) })}
                    />
                  ) : (
                    fit.unknowns.find((o) => o.id === u.unknown)?.readings.join('  ')
                  )}
                  {u.mean && <p className="quiet">{u.mean}</p>}
                </td>
                <td>
                  {u.value && <b>{u.value.text}</b>}
                  <p className={u.extrapolated || !u.value ? 'read-outside' : 'quiet'}>
                    <Typeset text={told(u.words, '; ')} />
                  </p>
                </td>
                <td>
                  {(u.value || !u.mean) && <CollectButton what={u.name} kind="unknown" of={fit.id} part={u.unknown} />}
                  {editable && (
                    <button
                      type="button"
                      className="plain-button collect"
                      aria-label={`Take ${u.name} away`}
                      onClick={() => onPlace({ unknowns: fit.unknowns.filter((o) => o.id !== u.unknown) })}
                    >
                      take away
                    </button>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {editable && (
        <form
          className="row"
          onSubmit={(e) => {
            e.preventDefault();
            if (name.trim()) add();
          }}
        >
          <Labelled words="called">
            <Input
              size="small"
              value={name}
              maxLength={80}
              placeholder="the thick stack"
              className="field-mid"
              onChange={(e) => keep({ name: e.target.value, readings })}
            />
          </Labelled>
          <Labelled words={`its ${y}, every reading`}>
            <Exact
              size="small"
              className="field-long"
              value={readings}
              maxLength={400}
              placeholder={withMark('3.71 3.74 or ln(41)', mark)}
              onChange={(e) => keep({ name, readings: e.target.value })}
            />
          </Labelled>
          <Button size="small" htmlType="submit" disabled={!name.trim()}>
            Read it back
          </Button>
        </form>
      )}
    </details>
  );
}
