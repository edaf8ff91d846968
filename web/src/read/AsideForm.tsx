// Asking for the reason, in place, under the setting it is about.
import { Button, Checkbox, Input } from 'antd';
import { useState } from 'react';

/** What is to be set aside: a whole setting, or readings of it and of others. `setting` is the one that the question stands under. */
export interface AsideTarget {
  setting: string;
  readings: { setting: string; quantity: string; repeat: number }[];
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
          <label htmlFor="aside-reason">
            Why {target.readings.length > 1 ? 'are' : 'is'} {target.words} left out?
          </label>
          <Input
            id="aside-reason"
            autoFocus
            value={reason}
            maxLength={300}
            onChange={(e) => setReason(e.target.value)}
            placeholder="the clamp slipped"
            className="field-rest"
          />
          {target.readings.length === 0 && (
            <Checkbox checked={onwards} onChange={(e) => setOnwards(e.target.checked)}>
              and everything from here on
            </Checkbox>
          )}
          <Button type="primary" htmlType="submit" disabled={!reason.trim()}>
            Set aside
          </Button>
          <Button onClick={() => onDone('', false)}>Keep {target.readings.length > 1 ? 'them' : 'it'}</Button>
        </form>
      </td>
    </tr>
  );
}
