// What a quantity is read from, and how uncertain that makes each reading.
import { Checkbox, Select } from 'antd';
import { Entry } from '@/shared/ui/Entry';
import { type Instrument, type WrittenInstrument, nameOf, numbersOf } from './instrument';

const KINDS: { value: Instrument['kind']; label: string }[] = [
  { value: 'scale', label: 'a scale with marks' },
  { value: 'display', label: 'a display' },
  { value: 'rectangular', label: 'a display, ± its last digit/√12' },
  { value: 'maker', label: 'a meter, ± as its maker states' },
  { value: 'steady', label: 'scatter seen where it was steady' },
  { value: 'counted', label: 'counted' },
  { value: 'counted_at_random', label: 'counted at random (±√N)' },
];

interface Props {
  written: WrittenInstrument;
  disabled: boolean;
  autoFocus: boolean;
  /** Which field has to be looked at again. */
  wrong: string;
  onWrite: (written: WrittenInstrument) => void;
}

export function InstrumentFields({ written, disabled, autoFocus, wrong, onWrite }: Props) {
  const write = (part: Partial<WrittenInstrument>) => onWrite({ ...written, ...part });
  return (
    <>
      <div className="row">
        <Entry
          words="read from"
          autoFocus={autoFocus}
          disabled={disabled}
          wrong={wrong === 'name'}
          value={written.name}
          maxLength={60}
          onWrite={(name) => write({ name })}
          placeholder={nameOf({ ...written, name: '' }) || 'ruler'}
          className="field-mid"
        />
        <Select
          aria-label="What kind of instrument"
          value={written.kind}
          disabled={disabled}
          options={KINDS}
          onChange={(kind) => write({ kind })}
          popupMatchSelectWidth={false}
        />
        {numbersOf(written.kind).map(({ field, words, placeholder }) => (
          <Entry
            key={field}
            words={words}
            disabled={disabled}
            wrong={wrong === field}
            value={written[field]}
            maxLength={field === 'division' || field === 'scatter' ? 20 : 10}
            onWrite={(text) => write({ [field]: text })}
            placeholder={placeholder}
            exact
            className="field-short"
          />
        ))}
      </div>
      {written.kind === 'scale' && (
        <div className="row">
          <Checkbox checked={written.between} disabled={disabled} onChange={(e) => write({ between: e.target.checked })}>
            read between the marks, to a tenth of a division
          </Checkbox>
          <Checkbox checked={written.pair} disabled={disabled} onChange={(e) => write({ pair: e.target.checked })}>
            each value is the difference of two readings, such as a length between two marks
          </Checkbox>
        </div>
      )}
    </>
  );
}
