// A chosen stretch of a log: leave it out with a reason, or bring it back.
import { Button, Input } from 'antd';
import { useState } from 'react';
import { useBookStore } from '@/shared/book/context';

export function LogAside({ run, first, last, onDone }: { run: string; first: number; last: number; onDone: () => void }) {
  const store = useBookStore();
  const [reason, setReason] = useState('');
  const words = first === last ? `Row ${first + 1}` : `Rows ${first + 1} to ${last + 1}`;
  return (
    <form
      className="block-bar"
      onSubmit={(e) => {
        e.preventDefault();
        if (!reason.trim()) return;
        store.edit({ type: 'set_aside_rows', run, first, last, reason: reason.trim() }, `${words} ${first === last ? 'was' : 'were'} set aside.`);
        onDone();
      }}
    >
      <label htmlFor="log-reason">{words}: why left out?</label>
      <Input
        id="log-reason"
        size="small"
        value={reason}
        maxLength={300}
        placeholder="the sensor was being moved"
        className="field-long"
        onChange={(e) => setReason(e.target.value)}
      />
      <Button size="small" htmlType="submit" type="primary" disabled={!reason.trim()}>
        Set aside
      </Button>
      <button
        type="button"
        onClick={() => {
          store.edit({ type: 'set_aside_rows', run, first, last, reason: null });
          onDone();
        }}
      >
        they count
      </button>
    </form>
  );
}
