// Fields with a label, a hint, and their trouble beneath them.
import { Input } from 'antd';
import { type ReactNode, useId } from 'react';
import { TroubleWords } from '@/shared/ui/TroubleWords';
import type { Trouble } from './useSend';
import './form.css';

export function Field({ label, trouble = '', hint = '', children }: { label: string; trouble?: string; hint?: string; children: ReactNode }) {
  return (
    <label className="field">
      <span>{label}</span>
      {children}
      {trouble ? <TroubleWords beside>{trouble}</TroubleWords> : hint && <em className="quiet">{hint}</em>}
    </label>
  );
}

interface TextProps {
  label: string;
  name: string;
  value: string;
  onChange: (value: string) => void;
  trouble: Trouble;
  hint?: string;
  secret?: boolean;
  autoFocus?: boolean;
  autoComplete?: string;
}

/** A line to write in, whose trouble is said beneath it. */
export function TextField({ label, name, value, onChange, trouble, hint = '', secret = false, autoFocus = false, autoComplete = 'off' }: TextProps) {
  const Line = secret ? Input.Password : Input;
  const words = trouble.field === name ? trouble.words : '';
  return (
    <Field label={label} trouble={words} hint={hint}>
      <Line
        aria-label={label}
        name={name}
        value={value}
        onChange={(e) => onChange(e.target.value)}
        status={words ? 'error' : ''}
        autoFocus={autoFocus}
        autoComplete={autoComplete}
        spellCheck={false}
      />
    </Field>
  );
}

/** The trouble that is of no field. */
export function TroubleLine({ trouble, fields = [] }: { trouble: Trouble; fields?: readonly string[] }) {
  if (!trouble.words || fields.includes(trouble.field)) return null;
  return <TroubleWords>{trouble.words}</TroubleWords>;
}

const ZONES = Intl.supportedValuesOf('timeZone');

/** A time zone, by typing a part of its name. */
export function ZoneField({ value, onChange, trouble }: { value: string; onChange: (zone: string) => void; trouble: Trouble }) {
  const list = useId();
  const words = trouble.field === 'time_zone' ? trouble.words : '';
  return (
    <Field label="The school’s time zone" trouble={words} hint="Sessions end after the school day, and reports are dated by it.">
      <Input name="time_zone" list={list} value={value} onChange={(e) => onChange(e.target.value)} status={words ? 'error' : ''} autoComplete="off" />
      <datalist id={list}>
        {ZONES.map((zone) => (
          <option key={zone} value={zone} />
        ))}
      </datalist>
    </Field>
  );
}

export function ownZone(): string {
  return Intl.DateTimeFormat().resolvedOptions().timeZone || 'UTC';
}
