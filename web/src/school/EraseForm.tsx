// Erasing something for good: its export first, then its name, typed.
import { Button, Input } from 'antd';
import { useState } from 'react';
import type { Schemas } from '@/shared/api/client';
import { TroubleLine } from '@/shared/form/fields';
import { useSend } from '@/shared/form/useSend';

interface Props {
  /** What goes, as it has to be typed. */
  name: string;
  /** What else goes with it, in a sentence. */
  words: string;
  /** Where all of it can be taken out before; empty where there is nothing to take. */
  takeOut: string;
  erase: (typed: string) => Promise<Schemas['ReceiptOut']>;
  onErased: (receipt: Schemas['ReceiptOut']) => void;
  onLeave: () => void;
}

export function EraseForm({ name, words, takeOut, erase, onErased, onLeave }: Props) {
  const [typed, setTyped] = useState('');
  const [trouble, send, busy] = useSend();
  return (
    <form
      className="stack erase-form"
      onSubmit={(e) => {
        e.preventDefault();
        send(async () => onErased(await erase(typed)));
      }}
    >
      <p>{words} This cannot be undone.</p>
      {takeOut && (
        <p>
          <a href={takeOut}>Take all of it out first</a>
        </p>
      )}
      <label className="field">
        <span>
          To erase it, type <b>{name}</b>
        </span>
        <Input value={typed} onChange={(e) => setTyped(e.target.value)} autoFocus spellCheck={false} autoComplete="off" />
      </label>
      <TroubleLine trouble={trouble} />
      <div className="row">
        <Button danger type="primary" htmlType="submit" loading={busy} disabled={!typed.trim()}>
          Erase
        </Button>
        <Button onClick={onLeave}>Leave it</Button>
      </div>
    </form>
  );
}
