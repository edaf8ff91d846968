// Who does which condition of a practical: dealt, or ticked in a grid; and whether each is done often enough.
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Button, Checkbox, InputNumber } from 'antd';
import { useState } from 'react';
import { type Schemas, client, get } from '@/shared/api/client';
import { TroubleLine } from '@/shared/form/fields';
import { useSend } from '@/shared/form/useSend';
import { Labelled } from '@/shared/ui/Labelled';
import { Sheet } from '@/shared/ui/Sheet';
import { benchName } from '@/shared/ui/benchName';
import { TroubleWords } from '@/shared/ui/TroubleWords';

type Turns = Schemas['TurnsOut'];

export function Conditions({ practical: p }: { practical: Schemas['RunningPractical'] }) {
  const [open, setOpen] = useState(false);
  if (!p.conditions) return null;
  return (
    <>
      <Button size="small" onClick={() => setOpen(true)}>
        Conditions
      </Button>
      {open && <ConditionsSheet id={p.id} title={p.title} onClose={() => setOpen(false)} />}
    </>
  );
}

function ConditionsSheet({ id, title, onClose }: { id: number; title: string; onClose: () => void }) {
  const queries = useQueryClient();
  const path = { params: { path: { practical_id: id } } };
  const turns = useQuery({ queryKey: ['turns', id], queryFn: () => get(client.GET('/api/practicals/{practical_id}/turns', path)), staleTime: 0 });
  const [chosen, setChosen] = useState<number | null>(null);
  const [trouble, send, busy] = useSend();
  const keep = (work: Promise<Turns>) => send(async () => void queries.setQueryData(['turns', id], await work));
  const found = turns.data;
  const each = chosen ?? found?.each ?? 1;
  const all = found?.benches.flatMap((b) => b.turns.map((t) => ({ bench: b.bench, condition: t.condition, day: t.day }))) ?? [];
  const arrange = (turns: typeof all) => keep(get(client.POST('/api/practicals/{practical_id}/turns', { ...path, body: { turns } })));
  const setDay = (bench: number, condition: string, day: string) =>
    arrange(all.map((t) => (t.bench === bench && t.condition === condition ? { ...t, day: day || null } : t)));
  const toggle = (bench: number, condition: string, on: boolean) => {
    const others = all.filter((t) => t.bench !== bench || t.condition !== condition);
    arrange(on ? [...others, { bench, condition, day: null }] : others);
  };
  return (
    <Sheet title={`Who does which condition of “${title}”`} onClose={onClose}>
      {turns.isError && <TroubleWords>{turns.error.message}</TroubleWords>}
      {found && (
        <div className="stack">
          <div className="row">
            <Labelled words="each bench does">
              <InputNumber size="small" min={1} max={found.coverage.length} value={each} onChange={setChosen} className="field-tiny" />
            </Labelled>
            <Button
              size="small"
              loading={busy}
              onClick={() => keep(get(client.POST('/api/practicals/{practical_id}/turns/deal', { ...path, body: { each } })))}
            >
              Deal them
            </Button>
            <span className="quiet">The runs are in the lab books at once, named. What has been written stays.</span>
          </div>
          <TroubleLine trouble={trouble} />
          <div className="turns-scroll">
            <table className="turns">
              <thead>
                <tr>
                  <th scope="col">bench</th>
                  {found.coverage.map((c) => (
                    <th key={c.condition} scope="col">
                      {c.name}
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {found.benches.map((b) => (
                  <tr key={b.bench}>
                    <th scope="row">{benchName(b.name, 'Bench')}</th>
                    {found.coverage.map((c) => (
                      <td key={c.condition}>
                        <Checkbox
                          aria-label={`${b.name} does ${c.name}`}
                          checked={b.turns.some((t) => t.condition === c.condition)}
                          disabled={busy}
                          onChange={(e) => toggle(b.bench, c.condition, e.target.checked)}
                        />
                        {b.turns.some((t) => t.condition === c.condition) && (
                          <input
                            type="date"
                            className="turn-day"
                            aria-label={`Day on which ${b.name} does ${c.name}`}
                            value={b.turns.find((t) => t.condition === c.condition)?.day ?? ''}
                            disabled={busy}
                            onChange={(e) => setDay(b.bench, c.condition, e.target.value)}
                          />
                        )}
                        {b.done.includes(c.condition) && <span className="quiet"> has readings</span>}
                      </td>
                    ))}
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
          <ul className="quiet turns-coverage">
            {found.coverage.map((c) => (
              <li key={c.condition}>{c.words}</li>
            ))}
          </ul>
        </div>
      )}
    </Sheet>
  );
}
