// One quantity: what it is called, its unit, what it is read from. A new unit asks what it means for the readings there are.
import { Button, Checkbox, Radio, Segmented, Select } from 'antd';
import { useState } from 'react';
import type { Edit, Quantity, Schemas } from '@/shared/api/client';
import { changeQuantity } from '@/shared/book/choices';
import { FormulaPreview, usePreview } from '@/shared/book/FormulaPreview';
import { newId } from '@/shared/book/newId';
import { isWorded } from '@/shared/book/quantities';
import { Entry } from '@/shared/ui/Entry';

type Instrument = Schemas['Instrument'];
type Own = 'measured' | 'words' | 'derived' | 'constant';

const SORTS: { value: Instrument['kind']; label: string }[] = [
  { value: 'scale', label: 'a scale with marks' },
  { value: 'display', label: 'a display' },
  { value: 'steady', label: 'scatter seen where it was steady' },
  { value: 'counted', label: 'counted' },
  { value: 'counted_at_random', label: 'counted at random (±√N)' },
];

interface FormProps {
  quantity: Quantity | null;
  /** What the plan leaves to the bench of a quantity that it has given. */
  free: Schemas['Freedoms'];
  /** Its value is each bench's own, though the plan has given the rest. */
  ownValue: boolean;
  onDone: (edit: Edit | null) => void;
}

export function QuantityForm({ quantity, free, ownValue, onDone }: FormProps) {
  const given = quantity?.given ?? false;
  const unitFree = !given || free.units;
  const instrumentFree = !given || free.instruments;
  const hasInstrument = !quantity || quantity.kind === 'measured' || quantity.kind === 'changed';
  const written = quantity && isWorded(quantity) ? 'words' : 'measured';
  const [kind, setKind] = useState<Own>(!quantity || quantity.kind === 'changed' || quantity.kind === 'measured' ? written : quantity.kind);
  const [name, setName] = useState(quantity?.name ?? '');
  const [symbol, setSymbol] = useState(quantity?.symbol ?? '');
  const [unit, setUnit] = useState(quantity?.unit ?? '');
  const [readings, setReadings] = useState<'relabel' | 'convert'>('convert');
  const [value, setValue] = useState(quantity?.value ?? '');
  const [u, setU] = useState(quantity?.u ?? '');
  const [source, setSource] = useState(quantity?.source ?? '');
  const [formula, setFormula] = useState('');
  const [device, setDevice] = useState(quantity?.instrument?.name ?? '');
  const [sort, setSort] = useState<Instrument['kind']>(quantity?.instrument?.kind ?? 'scale');
  const [division, setDivision] = useState(quantity?.instrument?.division ?? '');
  const [scatter, setScatter] = useState(quantity?.instrument?.scatter ?? '');
  const [common, setCommon] = useState(Number(quantity?.instrument?.common) ? (quantity?.instrument?.common ?? '') : '');
  const [between, setBetween] = useState(quantity?.instrument?.between_marks ?? false);
  // what had no unit has nothing to be turned into another
  const newUnit = quantity !== null && quantity.unit !== '' && kind !== 'words' && quantity.kind !== 'derived' && unit !== quantity.unit;
  const added = usePreview({ quantity: '', symbol: symbol.trim() }, quantity === null && kind === 'derived' ? formula.trim() : '');
  const submit = () => {
    const old = quantity?.instrument;
    const instrument =
      hasInstrument && kind === 'measured' && device.trim()
        ? {
            name: device.trim(),
            kind: sort,
            division: division.trim().replace(',', '.') || '1',
            readings: old?.readings ?? 1,
            between_marks: sort === 'scale' && between,
            percent: old?.percent ?? '0',
            digits: old?.digits ?? '0',
            scatter: sort === 'steady' ? scatter.trim().replace(',', '.') || '0' : '0',
            common: common.trim().replace(',', '.') || '0',
          }
        : null;
    const words = kind === 'words';
    // what words do not need stays as it was, for when they are numbers again
    const of = words ? { symbol, unit, instrument: old ?? null } : { symbol: symbol.trim(), unit: unit.trim(), instrument };
    const same = { name: name.trim(), holds: words ? ('words' as const) : ('numbers' as const), ...of, value, u, source: source.trim() };
    onDone(
      quantity
        ? changeQuantity(quantity, newUnit ? readings : 'relabel', same)
        : { type: 'add_quantity', quantity: newId('q'), kind: words ? 'measured' : kind, repeats: 1, formula, ...same },
    );
  };
  return (
    <form
      className="quantity-form"
      onSubmit={(e) => {
        e.preventDefault();
        submit();
      }}
    >
      {!quantity && (
        <Segmented<Own>
          value={kind}
          onChange={setKind}
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
          value={kind}
          onChange={setKind}
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
          autoFocus={!given}
          disabled={given}
          value={name}
          maxLength={80}
          onWrite={setName}
          placeholder="sag of the tip"
          className="field-long"
        />
        {kind !== 'words' && (
          <Entry words="symbol" disabled={given} value={symbol} maxLength={30} onWrite={setSymbol} placeholder="h" className="mono field-short" />
        )}
        {kind !== 'derived' && kind !== 'words' && (
          <Entry
            words="unit"
            autoFocus={given && unitFree}
            disabled={!unitFree}
            value={unit}
            maxLength={80}
            onWrite={setUnit}
            placeholder="mm"
            className="mono field-short"
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
              onWrite={setValue}
              className="mono field-mid"
            />
            <Entry words="±" disabled={given && !ownValue} value={u} maxLength={60} onWrite={setU} className="mono field-short" />
            <Entry
              words="from"
              disabled={given}
              value={source}
              maxLength={200}
              onWrite={setSource}
              placeholder="weighed, or which book"
              className="field-long"
            />
          </>
        )}
        {kind === 'derived' && !quantity && (
          <Entry words="formula" value={formula} maxLength={400} onWrite={setFormula} placeholder="1/T" className="mono field-long" />
        )}
      </div>
      <FormulaPreview text={formula} column={added} wrong={added?.trouble} />
      {hasInstrument && kind === 'measured' && (
        <div className="row">
          <Entry words="read from" disabled={!instrumentFree} value={device} maxLength={60} onWrite={setDevice} placeholder="ruler" className="field-mid" />
          <Select
            aria-label="What kind of instrument"
            value={sort}
            disabled={!instrumentFree}
            options={SORTS}
            onChange={setSort}
            popupMatchSelectWidth={false}
          />
          {sort === 'steady' && (
            <Entry
              words="each reading ±"
              disabled={!instrumentFree}
              value={scatter}
              maxLength={20}
              onWrite={setScatter}
              placeholder="0.012"
              className="mono field-short"
            />
          )}
          {(sort === 'scale' || sort === 'display' || sort === 'steady') && (
            <Entry
              words={sort === 'scale' ? 'smallest division' : 'last digit'}
              disabled={!instrumentFree}
              value={division}
              maxLength={20}
              onWrite={setDivision}
              placeholder="0.5"
              className="mono field-short"
            />
          )}
          {sort !== 'counted' && sort !== 'counted_at_random' && (
            <Entry
              words="its scale is known to, %"
              disabled={!instrumentFree}
              value={common}
              maxLength={10}
              onWrite={setCommon}
              placeholder="0.2"
              className="mono field-tiny"
            />
          )}
        </div>
      )}
      {hasInstrument && kind === 'measured' && sort === 'scale' && (
        <Checkbox checked={between} disabled={!instrumentFree} onChange={(e) => setBetween(e.target.checked)}>
          read between the marks, to a tenth of a division
        </Checkbox>
      )}
      {newUnit && (
        <Radio.Group value={readings} onChange={(e) => setReadings(e.target.value as 'relabel' | 'convert')}>
          <Radio value="convert">
            turn every reading from {quantity.unit || 'no unit'} into {unit || 'no unit'}
          </Radio>
          <Radio value="relabel">the readings were in {unit || 'no unit'} all along: only the heading was wrong</Radio>
        </Radio.Group>
      )}
      <div className="row">
        <Button type="primary" htmlType="submit" disabled={!name.trim() || (kind !== 'words' && !symbol.trim())}>
          {quantity ? 'Change' : 'Add'}
        </Button>
        <Button onClick={() => onDone(null)}>Leave it</Button>
      </div>
    </form>
  );
}
