// The dry run: what would come of the plan, what makes its ±, what would be better, and what has to be done for a wanted ±.
import { useQuery } from '@tanstack/react-query';
import { Button } from 'antd';
import { useState } from 'react';
import { Refusal, type Schemas, client, get } from '@/shared/api/client';
import { useBook } from '@/shared/book/context';
import { TroubleLine } from '@/shared/form/fields';
import { useSend } from '@/shared/form/useSend';
import { Labelled } from '@/shared/ui/Labelled';
import { Rich } from '@/shared/ui/Rich';
import { Sheet } from '@/shared/ui/Sheet';
import { told } from '@/shared/ui/told';
import { TroubleWords } from '@/shared/ui/TroubleWords';
import { Believed } from './Believed';
import { Typeset } from '@/shared/ui/Typeset';
import { Exact } from '@/shared/ui/Exact';
import { readNumber } from '@/shared/ui/readNumber';

export function DryRunSheet({ planId, onClose, onShow }: { planId: number; onClose: () => void; onShow: (seed: number) => void }) {
  const { revision } = useBook(({ state }) => ({ revision: state.revision }));
  const [seed, setSeed] = useState(1);
  const run = useQuery({
    queryKey: ['dry-run', planId, revision, seed],
    queryFn: () => get(client.GET('/api/plans/{plan_id}/dry-run', { params: { path: { plan_id: planId }, query: { seed } } })),
    placeholderData: (before) => before,
    retry: false,
  });
  return (
    <Sheet title="Dry run: what would come of this plan" onClose={onClose}>
      <div className="dry">
        <section className="dry-found">
          {run.isError ? (
            <TroubleWords>
              <Typeset text={run.error.message} />
            </TroubleWords>
          ) : !run.data ? (
            <p className="quiet">Measuring with {200} benches …</p>
          ) : (
            <>
              <p className="row">
                <span>
                  {run.data.classes} benches have measured. It takes each <b>{run.data.duration}</b>.
                </span>
                <Button size="small" onClick={() => setSeed(seed + 1)}>
                  Other benches
                </Button>
                <Button size="small" onClick={() => onShow(seed)}>
                  See one bench’s lab book
                </Button>
              </p>
              {told(run.data.fits) && (
                <p className="notice">
                  <Typeset text={told(run.data.fits)} />
                </p>
              )}
              {run.data.findings.length === 0 && <p className="quiet">There is no finding in this plan yet.</p>}
              {run.data.findings.map((f) => (
                <Found key={f.finding} planId={planId} seed={seed} found={f} />
              ))}
            </>
          )}
        </section>
        <section className="dry-believed">
          <h3>What the dry run believes</h3>
          <Believed lacks={run.error instanceof Refusal && run.error.code === 'unknown_value' ? run.error.field : ''} />
        </section>
      </div>
    </Sheet>
  );
}

function Found({ planId, seed, found: f }: { planId: number; seed: number; found: Schemas['ShownSpread'] }) {
  return (
    <article className="card dry-finding" aria-label={f.name}>
      <h3>{f.name}</h3>
      {f.value ? (
        <p className="dry-value">
          <Rich text={f.symbol} /> = {f.value.text} <span className="quiet">({f.percent})</span>
        </p>
      ) : (
        <p className="notice">It could not be worked out.</p>
      )}
      <p>
        <Typeset text={told(f.words)} />
      </p>
      {f.budget.length > 0 && (
        <ul className="dry-budget" aria-label="What makes its ±">
          {f.budget.map((b, i) => (
            <li key={i}>
              <span>
                <Rich text={b.symbol} />
              </span>
              <span className="dry-bar">
                <i style={{ inlineSize: `${100 * b.share}%` }} />
              </span>
              <span className="mono">{b.text}</span>
            </li>
          ))}
        </ul>
      )}
      <div className="row">
        <Better planId={planId} seed={seed} finding={f.finding} />
        <WayTo planId={planId} seed={seed} finding={f.finding} />
      </div>
    </article>
  );
}

function Better({ planId, seed, finding }: { planId: number; seed: number; finding: string }) {
  const [found, setFound] = useState<Schemas['ShownBetter'][] | null>(null);
  const [trouble, send, busy] = useSend();
  const look = () =>
    send(async () =>
      setFound(await get(client.GET('/api/plans/{plan_id}/dry-run/better', { params: { path: { plan_id: planId }, query: { finding, seed } } }))),
    );
  return (
    <div className="dry-answer">
      <Button size="small" loading={busy} onClick={look}>
        What would make it better?
      </Button>
      <TroubleLine trouble={trouble} />
      {found?.length === 0 && <p className="quiet">Nothing that could be doubled or halved would help much.</p>}
      {found && found.length > 0 && (
        <table>
          <tbody>
            {found.map((b, i) => (
              <tr key={i}>
                <th scope="row">
                  <Typeset text={b.words.text} />
                </th>
                <td className="mono">{b.percent}</td>
                <td className="quiet">{b.gain}</td>
                <td className="quiet">{b.duration}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </div>
  );
}

function WayTo({ planId, seed, finding }: { planId: number; seed: number; finding: string }) {
  const [wanted, setWanted] = useState('');
  const [found, setFound] = useState<Schemas['ShownPlanFor'] | null>(null);
  const [trouble, send, busy] = useSend();
  const percent = readNumber(wanted.replace(/[±%]/g, '')) ?? NaN;
  const isShare = percent > 0 && percent < 100;
  const look = () =>
    send(async () =>
      setFound(await get(client.GET('/api/plans/{plan_id}/dry-run/for', { params: { path: { plan_id: planId }, query: { finding, percent, seed } } }))),
    );
  return (
    <form
      className="dry-answer"
      onSubmit={(e) => {
        e.preventDefault();
        if (isShare) look();
      }}
    >
      <div className="row">
        <Labelled words="I want ±">
          <Exact size="small" className="field-tiny" value={wanted} maxLength={6} onChange={(e) => setWanted(e.target.value)} />
        </Labelled>
        <span className="quiet">%:</span>
        <Button size="small" htmlType="submit" loading={busy} disabled={!isShare}>
          what must they do?
        </Button>
      </div>
      <TroubleLine trouble={trouble} />
      {found && (
        <p className={found.reached ? 'notice good' : 'notice'}>
          <Typeset text={found.words.text} />
          {found.reached && ` give ${found.percent}, and take ${found.duration}.`}
        </p>
      )}
    </form>
  );
}
