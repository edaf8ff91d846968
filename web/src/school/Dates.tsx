// When readings of a practical close and when it is due, and which stations are open.
import { Button, Checkbox, Input, Select } from 'antd';
import { useState } from 'react';
import { type Schemas, client, get } from '@/shared/api/client';
import { Field, TroubleLine } from '@/shared/form/fields';
import { useSend } from '@/shared/form/useSend';
import { stageNames } from '@/shared/ui/MiniTrail';

type Practical = Schemas['RunningPractical'];
type OpenTo = Schemas['DatesIn']['open_to'];
type Moment = 'readings_close' | 'due' | 'pool_opens' | 'marks_back';
/** Moments as their fields have them. */
type Changed = Record<Moment, string> & { late: boolean; open_to: OpenTo };

const MOMENTS: { name: Moment; label: string; hint?: string }[] = [
  { name: 'readings_close', label: 'Readings close', hint: 'From then on they are set aside, not written.' },
  { name: 'due', label: 'To be handed in by' },
  { name: 'pool_opens', label: 'The pool opens by itself', hint: 'Before that only you open it, or the last hand-in where the plan says so.' },
  { name: 'marks_back', label: 'Marks are given back', hint: 'Until then nobody of the class sees them.' },
];

/** A moment as a form's field has it, by the clocks of this device. */
function asField(moment: string | null | undefined): string {
  if (!moment) return '';
  const at = new Date(moment);
  return new Date(at.getTime() - at.getTimezoneOffset() * 60_000).toISOString().slice(0, 16);
}

function asMoment(field: string): string | null {
  return field ? new Date(field).toISOString() : null;
}

function asDates(changed: Partial<Changed>): Schemas['DatesIn'] {
  const moments = MOMENTS.flatMap(({ name }) => (changed[name] === undefined ? [] : [[name, asMoment(changed[name])]]));
  return { ...changed, ...Object.fromEntries(moments) } as Schemas['DatesIn'];
}

export function Dates({ practical: p, again, onDone }: { practical: Practical; again: () => Promise<void>; onDone: () => void }) {
  const [opened] = useState(p.dates);
  // what is changed here, and no more: a colleague may have set the rest meanwhile
  const [changed, setChanged] = useState<Partial<Changed>>({});
  const set = (part: Partial<Changed>) => setChanged({ ...changed, ...part });
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
              body: asDates(changed),
            }),
          );
          await again();
          onDone();
        });
      }}
    >
      {MOMENTS.map(({ name, label, hint }) => (
        <Field key={name} label={label} trouble={at(name)} hint={hint}>
          <Input type="datetime-local" value={changed[name] ?? asField(opened[name])} onChange={(e) => set({ [name]: e.target.value })} />
        </Field>
      ))}
      <Field label="Stations open up to">
        <Select<OpenTo>
          value={changed.open_to ?? (opened.open_to as OpenTo)}
          onChange={(open_to) => set({ open_to })}
          options={[
            { value: '', label: 'all of them' },
            ...Object.entries(stageNames)
              .filter(([stage]) => stage !== 'pool' && stage !== 'report')
              .map(([stage, name]) => ({ value: stage as OpenTo, label: name })),
          ]}
        />
      </Field>
      <Checkbox checked={changed.late ?? opened.late} onChange={(e) => set({ late: e.target.checked })}>
        late will do
      </Checkbox>
      <TroubleLine trouble={trouble} fields={MOMENTS.map(({ name }) => name)} />
      <div className="row">
        <Button type="primary" htmlType="submit" loading={busy}>
          Set it so
        </Button>
        <Button onClick={onDone}>Leave it</Button>
      </div>
    </form>
  );
}
