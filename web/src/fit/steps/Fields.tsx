// Fields of a model that keep what is typed when they are left or Enter is pressed, and a slider that supposes while it moves.
import { Button, Checkbox } from 'antd';
import { useState } from 'react';
import { useDecimalMark } from '@/shared/book/context';
import { withMark } from '@/shared/book/decimalMark';
import { readNumber } from '@/shared/ui/readNumber';
import { sliderEnds, writeSlid } from './stepModel';
import { Exact } from '@/shared/ui/Exact';
import { useField } from '@/shared/ui/useTyped';

interface TextProps {
  label: string;
  value: string;
  width: 'field-short' | 'field-mid' | 'field-wide';
  disabled: boolean;
  wrong?: boolean;
  placeholder?: string;
  /** What may stand there besides words: an empty symbol is none. */
  needed?: boolean;
  maxLength?: number;
  onKeep: (text: string) => void;
}

export function KeptText({ label, value, width, disabled, wrong, placeholder, needed, maxLength = 400, onKeep }: TextProps) {
  const field = useField(value, onKeep, { needed });
  return (
    <Exact
      size="small"
      aria-label={label}
      aria-invalid={wrong}
      className={width}
      status={wrong ? 'error' : ''}
      disabled={disabled}
      placeholder={placeholder}
      maxLength={maxLength}
      {...field}
      onPressEnter={field.onBlur}
    />
  );
}

interface SliderProps {
  label: string;
  written: string;
  disabled: boolean;
  onSuppose: (text: string) => void;
  onKeep: (text: string) => void;
}

/** About the number that is written; nothing where no number is. The range stays while it moves. */
export function Slider({ label, written, disabled, onSuppose, onKeep }: SliderProps) {
  const value = readNumber(written);
  const [moved, setMoved] = useState<string | null>(null);
  const mark = useDecimalMark();
  if (value === null || Number.isNaN(value)) return null;
  const { low, high, step } = sliderEnds(value);
  const keep = () => {
    if (moved !== null && moved !== written) onKeep(moved);
    setMoved(null);
  };
  return (
    <input
      type="range"
      className="step-slider"
      aria-label={label}
      min={low}
      max={high}
      step={step}
      disabled={disabled}
      value={(moved === null ? value : readNumber(moved)) ?? value}
      onChange={(e) => {
        const text = withMark(writeSlid(Number(e.target.value), step), mark);
        setMoved(text);
        onSuppose(text);
      }}
      onPointerUp={keep}
      onKeyDown={(e) => e.key === 'Enter' && keep()}
      onBlur={keep}
    />
  );
}

interface AmountProps {
  /** What it is of: “Start of v”, “Value of k”. */
  label: string;
  symbol: string;
  written: string;
  unit: string;
  fitted: boolean;
  /** What a tick finds. */
  find: string;
  disabled: boolean;
  wrong: boolean;
  onSuppose: (text: string) => void;
  onChange: (part: { written?: string; unit?: string; fitted?: boolean }) => void;
  onTakeOut: () => void;
}

/** A number of a model with its unit: written, supposed, or to be found from the points. */
export function Amount({ label, symbol, written, unit, fitted, find, disabled, wrong, onSuppose, onChange, onTakeOut }: AmountProps) {
  return (
    <>
      <KeptText
        label={label}
        value={written}
        width="field-short"
        needed
        maxLength={60}
        disabled={disabled}
        wrong={wrong}
        onKeep={(text) => onChange({ written: text })}
      />
      <KeptText
        label={`Unit of ${symbol}`}
        value={unit}
        width="field-short"
        placeholder="unit"
        maxLength={80}
        disabled={disabled}
        onKeep={(text) => onChange({ unit: text })}
      />
      <Slider
        label={`Suppose another ${label.charAt(0).toLowerCase()}${label.slice(1)}`}
        written={written}
        disabled={disabled}
        onSuppose={onSuppose}
        onKeep={(text) => onChange({ written: text, fitted: false })}
      />
      {!disabled && (
        <>
          <Checkbox checked={fitted} onChange={(e) => onChange({ fitted: e.target.checked })}>
            {find}
          </Checkbox>
          <Button size="small" type="text" danger aria-label={`Take ${symbol} out of the model`} onClick={onTakeOut}>
            take out
          </Button>
        </>
      )}
    </>
  );
}
