// One quantity: what it is called, its unit, what it is read from. A new unit asks what it means for the readings there are.
import { Button, Radio, Segmented } from 'antd';
import { useState } from 'react';
import type { Quantity, Schemas } from '@/shared/api/client';
import { changeQuantity } from '@/shared/book/choices';
import { useBook } from '@/shared/book/context';
import { FormulaPreview, usePreview } from '@/shared/book/FormulaPreview';
import { newId } from '@/shared/book/newId';
import { isWorded } from '@/shared/book/quantities';
import { useSubmit } from '@/shared/book/useSubmit';
import { Entry } from '@/shared/ui/Entry';
import { TroubleWords } from '@/shared/ui/TroubleWords';
import { asItWas, useDraft } from '@/shared/ui/useDraft';
import { InstrumentFields } from './InstrumentFields';
import { type WrittenInstrument, lacking, readInstrument, writtenFrom } from './instrument';

type Own = 'measured' | 'words' | 'derived' | 'constant';

interface Written {
  kind: Own;
  name: string;
  symbol: string;
  unit: string;
  value: string;
  u: string;
  source: string;
  formula: string;
  instrument: WrittenInstrument;
}

/** What has been written of a quantity as it was then. */
interface Draft {
  of: Quantity | null;
  changes: Partial<Written>;
}

interface FormProps {
  /** As it was when the form was opened, or null for a new one. */
  quantity: Quantity | null;
  /** What the plan leaves to the bench of a quantity that it has given. */
  free: Schemas['Freedoms'];
  /** Its value is each bench's own, though the plan has given the rest. */
  ownValue: boolean;
  onDone: () => void;
}

export function QuantityForm({ quantity: opened, free, ownValue, onDone }: FormProps) {
  const { id } = useBook(({ state }) => ({ id: state.id }));
  // kept while the form is closed: whoever looks something up elsewhere comes back to it
  const [draft, keep] = useDraft<Draft>(`quantity of ${id} ${opened?.id ?? 'new'}`);
  const [again] = useState(draft !== null);
  const changed = (Object.keys(draft?.changes ?? {}) as (keyof Written)[]).map((name) => (name === 'kind' ? 'holds' : name));
  // what somebody else changes meanwhile is not taken back
  const quantity = opened && draft?.of ? asItWas(opened, draft.of, changed) : opened;
  const given = quantity?.given ?? false;
  const unitFree = !given || free.units;
  const instrumentFree = !given || free.instruments;
  const hasInstrument = !quantity || quantity.kind === 'measured' || quantity.kind === 'changed';
  const written = quantity && isWorded(quantity) ? 'words' : 'measured';
  const { submit, busy, refusal } = useSubmit();
  const [begun] = useState<Written>(() => ({
    kind: !quantity || quantity.kind === 'changed' || quantity.kind === 'measured' ? written : quantity.kind,
    name: quantity?.name ?? '',
    symbol: quantity?.symbol ?? '',
    unit: quantity?.unit ?? '',
    value: quantity?.value ?? '',
    u: quantity?.u ?? '',
    source: quantity?.source ?? '',
    formula: '',
    instrument: writtenFrom(quantity?.instrument),
  }));
  const { kind, name, symbol, unit, value, u, source, formula, instrument } = { ...begun, ...draft?.changes };
  const set = (part: Partial<Written>) => keep((before) => ({ of: before ? before.of : opened, changes: { ...before?.changes, ...part } }));
  const end = () => {
    keep(null);
    onDone();
  };
  const [readings, setReadings] = useState<'relabel' | 'convert'>('convert');
  const [tried, setTried] = useState(false);
  // what had no unit has nothing to be turned into another
  const newUnit = quantity !== null && quantity.unit !== '' && kind !== 'words' && quantity.kind !== 'derived' && unit !== quantity.unit;
  const added = usePreview({ quantity: '', symbol: symbol.trim() }, quantity === null && kind === 'derived' ? formula.trim() : '');
  const wrong = hasInstrument && kind === 'measured' && instrumentFree ? lacking(instrument) : null;
  // who comes to a quantity that is read from nothing yet comes to say what it is read from
  const unread = quantity !== null && hasInstrument && written === 'measured' && instrumentFree && !quantity.instrument;
  const send = () => {
    if (wrong) {
      setTried(true);
      return;
    }
    const old = quantity?.instrument;
    const words = kind === 'words';
    // what words do not need stays as it was, for when they are numbers again
    const read = hasInstrument && kind === 'measured' ? readInstrument(instrument, old) : null;
    const of = words ? { symbol, unit, instrument: old ?? null } : { symbol: symbol.trim(), unit: unit.trim(), instrument: read };
    const same = { name: name.trim(), holds: words ? ('words' as const) : ('numbers' as const), ...of, value, u, source: source.trim() };
    submit(
      quantity
        ? changeQuantity(quantity, newUnit ? readings : 'relabel', same)
        : { type: 'add_quantity', quantity: newId('q'), kind: words ? 'measured' : kind, repeats: 1, formula, ...same },
      end,
      () => keep(null),
    );
  };
  return (
    <form
      className="quantity-form"
      onSubmit={(e) => {
        e.preventDefault();
        send();
      }}
    >
      {!quantity && (
        <Segmented<Own>
          aria-label="What kind of quantity"
          value={kind}
          onChange={(kind) => set({ kind })}
          options={[
            { value: 'measured', label: 'measured at every setting' },
            { value: 'words', label: 'in words' },
            { value: 'constant', label: 'measured once' },
            { value: 'derived', label: 'derived by a formula' },
          ]}
        />
      )}
      {quantity && hasInstrument && !given && (
        <Segmented<Own>
          aria-label="What kind of quantity"
          value={kind}
          onChange={(kind) => set({ kind })}
          options={[
            { value: 'measured', label: 'numbers' },
            { value: 'words', label: 'words' },
          ]}
        />
      )}
      {kind === 'words' && <p className="quiet">A colour, a material, a remark: one at each setting, and nothing is calculated with it.</p>}
      <div className="row">
        <Entry
          words="called"
          autoFocus={!given && !unread}
          disabled={given}
          value={name}
          maxLength={80}
          onWrite={(name) => set({ name })}
          placeholder="sag of the tip"
          className="field-long"
        />
        {kind !== 'words' && (
          <Entry
            words="symbol"
            disabled={given}
            value={symbol}
            maxLength={30}
            onWrite={(symbol) => set({ symbol })}
            placeholder="h"
            exact
            className="field-short"
          />
        )}
        {kind !== 'derived' && kind !== 'words' && (
          <Entry
            words="unit"
            autoFocus={given && unitFree}
            disabled={!unitFree}
            value={unit}
            maxLength={80}
            onWrite={(unit) => set({ unit })}
            placeholder="mm"
            exact
            className="field-short"
          />
        )}
        {kind === 'constant' && (
          <>
            <Entry
              words="value"
              autoFocus={given && ownValue}
              disabled={given && !ownValue}
              value={value}
              maxLength={60}
              onWrite={(value) => set({ value })}
              exact
              className="field-mid"
            />
            <Entry words="±" disabled={given && !ownValue} value={u} maxLength={60} onWrite={(u) => set({ u })} exact className="field-short" />
            <Entry
              words="from"
              disabled={given}
              value={source}
              maxLength={200}
              onWrite={(source) => set({ source })}
              placeholder="weighed, or which book"
              className="field-long"
            />
          </>
        )}
        {kind === 'derived' && !quantity && (
          <Entry words="formula" value={formula} maxLength={400} onWrite={(formula) => set({ formula })} placeholder="1/T" exact className="field-long" />
        )}
      </div>
      <FormulaPreview text={formula} column={added} wrong={added?.trouble} />
      {hasInstrument && kind === 'measured' && (
        <InstrumentFields
          written={instrument}
          disabled={!instrumentFree}
          autoFocus={unread}
          wrong={(tried && wrong?.field) || ''}
          onWrite={(instrument) => set({ instrument })}
        />
      )}
      {newUnit && (
        <Radio.Group value={readings} onChange={(e) => setReadings(e.target.value as 'relabel' | 'convert')}>
          <Radio value="convert">
            turn every reading from {quantity.unit || 'no unit'} into {unit || 'no unit'}
          </Radio>
          <Radio value="relabel">the readings were in {unit || 'no unit'} all along: only the heading was wrong</Radio>
        </Radio.Group>
      )}
      {again && quantity && <p className="quiet">This is what you had begun to write.</p>}
      <TroubleWords beside>{refusal || (tried && wrong?.words)}</TroubleWords>
      <div className="row">
        <Button type="primary" htmlType="submit" loading={busy} disabled={!name.trim() || (kind !== 'words' && !symbol.trim())}>
          {quantity ? 'Change' : 'Add'}
        </Button>
        <Button onClick={end}>Leave it</Button>
      </div>
    </form>
  );
}
