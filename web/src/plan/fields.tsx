// The fields that a plan is written in: each keeps what is typed until it is left, then it is an edit of the plan.
import { Button, Checkbox, Input, Radio } from 'antd';
import { type ReactNode, useEffect, useRef, useState } from 'react';
import { Field } from '@/shared/form/fields';
import { Exact } from '@/shared/ui/Exact';
import { readCount } from '@/shared/ui/readNumber';
import { Sentence } from '@/shared/ui/Sentence';
import { TroubleWords } from '@/shared/ui/TroubleWords';
import { type FieldRules, useField, useTyped } from '@/shared/ui/useTyped';

/** `stood`: what was there when typing began, where somebody has written something else there since. */
type OnTyped<T> = (value: T, stood?: T) => void;

/** A field of a plan as it is typed. */
export function usePlanField(kept: string, onWrite: OnTyped<string>, rules: FieldRules = {}) {
  return useField(kept, (text, was) => onWrite(text, was === kept ? undefined : was), rules);
}

interface LineProps {
  label: string;
  value: string;
  onWrite: OnTyped<string>;
  hint?: string;
  most?: number;
  rows?: number;
  mono?: boolean;
}

/** A line, or several `rows`, kept when it is left. */
export function Written({ label, value, onWrite, hint = '', most = 600, rows = 1, mono = false }: LineProps) {
  const same = { placeholder: hint, maxLength: most, ...usePlanField(value, onWrite) };
  return (
    <Field label={label}>
      {rows > 1 ? (
        <Input.TextArea {...same} className={mono ? 'mono' : ''} autoSize={{ minRows: rows }} />
      ) : mono ? (
        <Exact {...same} onPressEnter={(e) => e.currentTarget.blur()} />
      ) : (
        <Sentence {...same} />
      )}
    </Field>
  );
}

export function Ticked({ checked, onWrite, children }: { checked: boolean; onWrite: (on: boolean) => void; children: ReactNode }) {
  return (
    <Checkbox checked={checked} onChange={(e) => onWrite(e.target.checked)}>
      {children}
    </Checkbox>
  );
}

export function Chosen<T extends string>({
  label,
  value,
  options,
  onWrite,
}: {
  label: string;
  value: T;
  options: readonly { value: T; label: string }[];
  onWrite: (value: T) => void;
}) {
  return (
    <fieldset className="plan-choice">
      <legend>{label}</legend>
      <Radio.Group value={value} onChange={(e) => onWrite(e.target.value as T)}>
        {options.map((o) => (
          <Radio key={o.value} value={o.value}>
            {o.label}
          </Radio>
        ))}
      </Radio.Group>
    </fieldset>
  );
}

/** Things one below the other, each with its fields; the last press adds one, whose first field is written in next. */
export function Items<T>({
  label,
  items,
  keyOf,
  add,
  busy = false,
  onAdd,
  onRemove,
  children,
}: {
  label: string;
  items: readonly T[];
  keyOf: (item: T, i: number) => string;
  add: ReactNode;
  /** What was to be added is on its way. */
  busy?: boolean;
  onAdd: () => void;
  onRemove: (i: number) => void;
  children: (item: T, i: number) => ReactNode;
}) {
  const list = useRef<HTMLUListElement>(null);
  const last = useRef<HTMLButtonElement>(null);
  const pressed = useRef<'add' | 'remove' | null>(null);
  useEffect(() => {
    const field = list.current?.lastElementChild?.querySelector<HTMLInputElement | HTMLTextAreaElement>('input, textarea');
    if (pressed.current === 'add') {
      field?.focus();
      // a name that it was given is written over
      field?.select();
    } else if (pressed.current === 'remove') last.current?.focus();
    pressed.current = null;
  }, [items.length]);
  return (
    <section className="plan-items" aria-label={label}>
      <h3>{label}</h3>
      <ul ref={list}>
        {items.map((item, i) => (
          <li key={keyOf(item, i)}>
            {children(item, i)}
            <Button
              type="text"
              size="small"
              aria-label={`Take number ${i + 1} of “${label}” away`}
              onClick={() => {
                pressed.current = 'remove';
                onRemove(i);
              }}
            >
              ×
            </Button>
          </li>
        ))}
      </ul>
      <Button
        ref={last}
        size="small"
        loading={busy}
        onClick={() => {
          pressed.current = 'add';
          onAdd();
        }}
      >
        {add}
      </Button>
    </section>
  );
}

interface BareProps extends Omit<LineProps, 'rows'> {
  width?: number;
  autoFocus?: boolean;
  /** It cannot be left empty. */
  needed?: boolean;
}

/** A line in a list of things: no label of its own beside it; `width` is for what is read letter by letter. */
export function Bare({ label, value, onWrite, hint = '', most = 200, width, mono = false, autoFocus = false, needed = false }: BareProps) {
  const field = usePlanField(value, onWrite, { needed });
  const same = { size: 'small', 'aria-label': label, autoFocus, placeholder: hint, maxLength: most, ...field } as const;
  if (!mono) return <Sentence {...same} />;
  return <Exact {...same} style={width ? { width } : {}} onPressEnter={(e) => e.currentTarget.blur()} />;
}

/** How many: a whole number, or nothing. What is none is said beneath and stays as it was typed. */
export function Counted({ label, value, most, onWrite }: { label: string; value: number; most: number; onWrite: OnTyped<number> }) {
  const typed = useTyped(value ? String(value) : '');
  const [wrong, setWrong] = useState(false);
  const keep = () => {
    const count = readCount(typed.now, most);
    setWrong(count === null);
    if (count === null) return;
    const was = Number(typed.was);
    if (typed.typing && count !== was) onWrite(count, was === value ? undefined : was);
    typed.forget();
  };
  return (
    <>
      <Exact
        size="small"
        aria-label={label}
        aria-invalid={wrong}
        status={wrong ? 'error' : ''}
        inputMode="numeric"
        className="field-tiny"
        maxLength={20}
        value={typed.now}
        data-dirty={typed.typing ? 'yes' : 'no'}
        onChange={(e) => typed.type(e.target.value)}
        onBlur={keep}
        onPressEnter={(e) => e.currentTarget.blur()}
      />
      {wrong && <TroubleWords beside>{`A whole number up to ${most} belongs here.`}</TroubleWords>}
    </>
  );
}
