// Which simulated apparatus stands on every bench, what goes wrong with it, and what is read from which instrument.
import { useQuery } from '@tanstack/react-query';
import { Select } from 'antd';
import { client, get } from '@/shared/api/client';
import { useBook } from '@/shared/book/context';
import { readIn } from '@/shared/book/quantities';
import { Labelled } from '@/shared/ui/Labelled';
import { Ticked } from './fields';
import { toggled } from './lists';
import { usePlan } from './usePlan';

const NONE = 'none';

export function RigFields() {
  const { quantities } = useBook(({ quantities }) => ({ quantities }));
  const { plan, write } = usePlan();
  const known = useQuery({ queryKey: ['rigs'], queryFn: () => get(client.GET('/api/rigs')), staleTime: Infinity });
  const rig = known.data?.find((r) => r.key === plan.rig.key);
  const read = readIn(quantities);
  const change = (part: Partial<typeof plan.rig>) => write({ rig: { ...plan.rig, ...part } });
  return (
    <section className="plan-choice" aria-label="Simulated apparatus">
      <h3>Simulated apparatus on every bench</h3>
      <Select
        aria-label="Simulated apparatus"
        className="field-wide"
        value={plan.rig.key || NONE}
        loading={known.isPending}
        options={[{ value: NONE, label: 'none: benches have their own' }, ...(known.data ?? []).map((r) => ({ value: r.key, label: r.title }))]}
        onChange={(key) => write({ rig: { key: key === NONE ? '' : key, without: [], writes: {}, writes_down: true } })}
      />
      {rig && (
        <>
          <p className="quiet">{rig.words}</p>
          {rig.faces.map((face) => (
            <Labelled key={face.id} words={`From the ${face.name} (${face.unit}) is read`}>
              <Select
                aria-label={`What is read from the ${face.name}`}
                className="field-long"
                value={plan.rig.writes[face.id] ?? NONE}
                options={[{ value: NONE, label: 'nothing' }, ...read.map((q) => ({ value: q.id, label: q.name }))]}
                onChange={(to) => {
                  const others = Object.entries(plan.rig.writes).filter(([id]) => id !== face.id);
                  change({ writes: Object.fromEntries(to === NONE ? others : [...others, [face.id, to]]) });
                }}
              />
            </Labelled>
          ))}
          <Ticked checked={plan.rig.writes_down} onWrite={(on) => change({ writes_down: on })}>
            a press writes down what an instrument shows; else it is read and typed
          </Ticked>
          <fieldset className="plan-choice">
            <legend>What goes wrong, as in life</legend>
            {rig.mishaps.map((t) => (
              <Ticked key={t.id} checked={!plan.rig.without.includes(t.id)} onWrite={(on) => change({ without: toggled(plan.rig.without, t.id, !on) })}>
                {t.words}
              </Ticked>
            ))}
          </fieldset>
        </>
      )}
    </section>
  );
}
