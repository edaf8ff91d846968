// What is typed in a field, over what stood there when typing began; see decision 63.
import { type ChangeEvent, useEffect, useRef, useState } from 'react';

interface Typed<T> {
  /** What the field shows: what is typed, else what is kept. */
  now: T;
  /** Whether somebody is typing. */
  typing: boolean;
  /** What stood there when that began. */
  was: T;
  type: (next: T) => void;
  /** It has been sent: shown until what is kept is another. */
  send: () => void;
  forget: () => void;
}

/** `kept` is what is kept now, whoever wrote it; two that are written the same are the same. */
export function useTyped<T>(kept: T, write: (value: T) => string = String): Typed<T> {
  const [draft, setDraft] = useState<{ now: T; was: T; sent: boolean } | null>(null);
  const same = (a: T, b: T) => write(a) === write(b);
  // what was sent has come, or something newer
  const over = draft?.sent && !same(draft.was, kept);
  if (over) setDraft(null);
  const typed = over ? null : draft;
  const typing = typed !== null && !typed.sent;
  return {
    now: typed ? typed.now : kept,
    typing,
    was: typing ? typed.was : kept,
    type: (now) => setDraft((before) => ({ now, was: before && !before.sent ? before.was : kept, sent: false })),
    send: () => setDraft((before) => before && { ...before, sent: true }),
    forget: () => setDraft(null),
  };
}

/** Acts, as the last drawing would, when what is drawn is taken off the page: nobody hears that a field there is left. */
export function useWhenGone(act: () => void): void {
  const newest = useRef(act);
  useEffect(() => {
    newest.current = act;
  });
  useEffect(() => () => newest.current(), []);
}

/** Leaves what has been typed once: when the field is left, or when somebody else takes it off the page. */
export function useLeaving(leave: () => void): { typed: () => void; leave: () => void } {
  const open = useRef(false);
  const leaveOnce = () => {
    if (!open.current) return;
    open.current = false;
    leave();
  };
  useWhenGone(leaveOnce);
  const typed = () => {
    open.current = true;
  };
  return { typed, leave: leaveOnce };
}

interface FieldProps {
  value: string;
  'data-dirty': 'yes' | 'no';
  onChange: (e: ChangeEvent<HTMLInputElement | HTMLTextAreaElement>) => void;
  onBlur: () => void;
}

export interface FieldRules {
  /** It cannot be left empty. */
  needed?: boolean;
  /** What is kept comes with the server's answer, and not at once: until then the field shows what was typed. */
  late?: boolean;
  /** How what is typed is kept: two that are kept alike are not different. */
  spell?: (typed: string) => string;
}

const trim = (typed: string) => typed.trim();

/** A field that is written when it is left, if something else stands there than when typing began. */
export function useField(
  kept: string,
  write: (text: string, was: string) => void,
  { needed = false, late = false, spell = trim }: FieldRules = {},
): FieldProps {
  const typed = useTyped(kept);
  const leaving = useLeaving(() => {
    const text = spell(typed.now);
    const other = text !== spell(typed.was) && (text !== '' || !needed);
    if (other && late) typed.send();
    else typed.forget();
    if (other) write(text, typed.was);
  });
  return {
    value: typed.now,
    'data-dirty': typed.typing && typed.now !== typed.was ? 'yes' : 'no',
    onChange: (e) => {
      leaving.typed();
      typed.type(e.target.value);
    },
    onBlur: leaving.leave,
  };
}
