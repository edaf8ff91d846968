// When readings of a practical close and when it is due, and which stations are open.
import { Button, Checkbox, Input, Select } from 'antd';
import { useState } from 'react';
import { type Schemas, client, get } from '@/shared/api/client';
import { Field, TroubleLine } from '@/shared/form/fields';
import { useSend } from '@/shared/form/useSend';
import { stageNames } from '@/shared/ui/MiniTrail';

type Practical = Schemas['RunningPractical'];
type OpenTo = Schemas['DatesIn']['open_to'];

/** A moment as a form's field has it, by the clocks of this device. */
function asField(moment: string | null | undefined): string {
  if (!moment) return '';
  const at = new Date(moment);
  return new Date(at.getTime() - at.getTimezoneOffset() * 60_000).toISOString().slice(0, 16);
}

function asMoment(field: string): string | null {
  return field ? new Date(field).toISOString() : null;
}

export function Dates({ practical: p, again, onDone }: { practical: Practical; again: () => Promise<void>; onDone: () => void }) {
  const [close, setClose] = useState(asField(p.dates.readings_close));
  const [due, setDue] = useState(asField(p.dates.due));
  const [pool, setPool] = useState(asField(p.dates.pool_opens));
  const [back, setBack] = useState(asField(p.dates.marks_back));
  const [late, setLate] = useState(p.dates.late);
  const [openTo, setOpenTo] = useState<OpenTo>(p.dates.open_to as OpenTo);
  const [trouble, send, busy] = useSend();
  const at = (field: string) => (trouble.field === field ? trouble.words : '');
  return (
    <form
      className="practical-dates"
      onSubmit={(e) => {
        e.preventDefault();
        send(async () => {
          await get(
            client.POST('/api/practicals/{practical_id}/dates', {
              params: { path: { practical_id: p.id } },
              body: { readings_close: asMoment(close), due: asMoment(due), late, pool_opens: asMoment(pool), marks_back: asMoment(back), open_to: openTo },
            }),
          );
          await again();
          onDone();
        });
      }}
    >
      <Field label="Readings close" trouble={at('readings_close')} hint="From then on they are set aside, not written.">
        <Input type="datetime-local" value={close} onChange={(e) => setClose(e.target.value)} />
      </Field>
      <Field label="To be handed in by" trouble={at('due')}>
        <Input type="datetime-local" value={due} onChange={(e) => setDue(e.target.value)} />
      </Field>
      <Field label="The pool opens by itself" trouble={at('pool_opens')} hint="Before that only you open it, or the last hand-in where the plan says so.">
        <Input type="datetime-local" value={pool} onChange={(e) => setPool(e.target.value)} />
      </Field>
      <Field label="Marks are given back" trouble={at('marks_back')} hint="Until then nobody of the class sees them.">
        <Input type="datetime-local" value={back} onChange={(e) => setBack(e.target.value)} />
      </Field>
      <Field label="Stations open up to">
        <Select<OpenTo>
          value={openTo}
          onChange={setOpenTo}
          options={[
            { value: '', label: 'all of them' },
            ...Object.entries(stageNames)
              .filter(([stage]) => stage !== 'pool' && stage !== 'report')
              .map(([stage, name]) => ({ value: stage as OpenTo, label: name })),
          ]}
        />
      </Field>
      <Checkbox checked={late} onChange={(e) => setLate(e.target.checked)}>
        late will do
      </Checkbox>
      <TroubleLine trouble={trouble} fields={['readings_close', 'due', 'pool_opens', 'marks_back']} />
      <div className="row">
        <Button type="primary" htmlType="submit" loading={busy}>
          Set it so
        </Button>
        <Button onClick={onDone}>Leave it</Button>
      </div>
    </form>
  );
}
