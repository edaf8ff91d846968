// Asking for the reason, in place, under the setting it is about.
import { Button, Checkbox, Input } from 'antd';
import { useState } from 'react';

export interface AsideTarget {
  setting: string;
  quantity: string | null;
  repeat: number | null;
  words: string;
}

export function AsideForm({ target, width, onDone }: { target: AsideTarget; width: number; onDone: (reason: string, onwards: boolean) => void }) {
  const [reason, setReason] = useState('');
  const [onwards, setOnwards] = useState(false);
  return (
    <tr className="aside-form">
      <td colSpan={width}>
        <form
          className="row"
          onSubmit={(e) => {
            e.preventDefault();
            if (reason.trim()) onDone(reason.trim(), onwards);
          }}
          onKeyDown={(e) => {
            if (e.key === 'Escape') onDone('', false);
          }}
        >
          <label htmlFor="aside-reason">Why is {target.words} left out?</label>
          <Input id="aside-reason" autoFocus value={reason} maxLength={300} onChange={(e) => setReason(e.target.value)} placeholder="the clamp slipped" style={{ flex: 1, minWidth: 180 }} />
          {target.quantity === null && (
            <Checkbox checked={onwards} onChange={(e) => setOnwards(e.target.checked)}>
              and everything from here on
            </Checkbox>
          )}
          <Button type="primary" htmlType="submit" disabled={!reason.trim()}>
            Set aside
          </Button>
          <Button onClick={() => onDone('', false)}>Keep it</Button>
        </form>
      </td>
    </tr>
  );
}
