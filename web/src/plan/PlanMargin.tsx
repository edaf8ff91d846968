// Beside a station of a plan: what the plan says there, what is not right yet, and what can be done with the plan as a whole.
import { useQuery } from '@tanstack/react-query';
import { Button, Segmented } from 'antd';
import { createElement, useState } from 'react';
import { Link } from 'react-router';
import { type Edit, type Schemas, type StageName, client, get } from '@/shared/api/client';
import { useBook, useBookStore } from '@/shared/book/context';
import { definitionOf } from '@/shared/book/quantities';
import { TroubleLine } from '@/shared/form/fields';
import { useSend } from '@/shared/form/useSend';
import { stageNames } from '@/shared/ui/MiniTrail';
import { useFocusKept } from '@/shared/ui/useFocusKept';
import { DryRunSheet } from './DryRunSheet';
import { GiveOutSheet } from './GiveOutSheet';
import { LastTime } from './LastTime';
import { Offers } from './Offers';
import { Written } from './fields';
import { Prompted, stageFields } from './stages';
import { usePlan } from './usePlan';
import './plan.css';
import { Typeset } from '@/shared/ui/Typeset';

export interface Glass {
  /** Whether the station is shown as a bench will see it, and with the readings of which dry run (0: none). */
  on: boolean;
  seed: number;
}

export function PlanMargin({ planId, stage, glass, onGlass }: { planId: number; stage: StageName; glass: Glass; onGlass: (glass: Glass) => void }) {
  const { state } = useBook(({ state }) => ({ state }));
  const [sheet, setSheet] = useState<'dry' | 'give' | null>(null);
  const { plan, typed } = usePlan();
  const [margin, setMargin] = useState<HTMLElement | null>(null);
  useFocusKept(margin);
  return (
    <aside ref={setMargin} className="margin plan-margin" aria-label="What the plan says" tabIndex={-1}>
      <Segmented<boolean>
        block
        value={glass.on}
        aria-label="How this station is shown"
        options={[
          { value: false, label: 'I write it' },
          { value: true, label: 'benches see it' },
        ]}
        onChange={(on) => onGlass({ on, seed: on ? glass.seed : 0 })}
      />
      <div className="row plan-acts">
        <Button size="small" onClick={() => setSheet('dry')}>
          Try it dry
        </Button>
        <Filling planId={planId} />
        <Button size="small" type="primary" onClick={() => setSheet('give')}>
          Give it out
        </Button>
      </div>
      <Notes planId={planId} book={state.id} revision={state.revision} stage={stage} onDry={() => setSheet('dry')} />
      <LastTime planId={planId} book={state.id} />
      {/* another stage is another form, whose fields begin anew */}
      <div className="plan-fields" key={stage}>
        <h2>The plan says at {stageNames[stage]}</h2>
        <Prompted stage={stage} />
        {(stage === 'look' || stage === 'straighten' || stage === 'fit' || stage === 'find') && <Offers planId={planId} />}
        {createElement(stageFields[stage])}
        <Written
          label="Notes for teachers, which no bench sees"
          rows={3}
          most={10_000}
          value={plan.notes}
          hint="What to lay out, what goes wrong, what to ask."
          onWrite={typed((notes) => ({ notes }))}
        />
      </div>
      {sheet === 'dry' && (
        <DryRunSheet
          planId={planId}
          onClose={() => setSheet(null)}
          onShow={(seed) => {
            setSheet(null);
            onGlass({ on: true, seed });
          }}
        />
      )}
      {sheet === 'give' && <GiveOutSheet planId={planId} onClose={() => setSheet(null)} />}
    </aside>
  );
}

/** Fills the table with believable readings, as often as wanted: they are trials of the plan’s writer, and no bench gets them. */
function Filling({ planId }: { planId: number }) {
  const store = useBookStore();
  const { document } = useBook(({ state }) => ({ document: state.document }));
  const [seed, setSeed] = useState(1);
  const [trouble, send, busy] = useSend();
  const fill = () =>
    send(async () => {
      await store.whenSaved();
      const seen = await get(client.GET('/api/plans/{plan_id}/seen', { params: { path: { plan_id: planId }, query: { seed } } }));
      const given = seen.document.plan.given_runs;
      for (const run of seen.document.runs) {
        if (given.includes(run.id) || run.log) continue;
        const settings = run.settings.map(({ id, readings, set_aside }) => ({ id, readings, set_aside })) as Schemas['SettingIn'][];
        store.edit({ type: 'fill_run', run: run.id, settings, words: 'filled with believable readings', log: null, new: null, first: null });
      }
      for (const fit of document.fits) {
        const unknowns = seen.document.fits.find((f) => f.id === fit.id)?.unknowns ?? [];
        if (unknowns.some((u) => u.readings.length > 0))
          store.edit({ type: 'place_fit', fit: fit.id, was: { unknowns: fit.unknowns }, becomes: { unknowns } } as Edit);
      }
      setSeed(seed + 1);
    });
  return (
    <>
      <Button size="small" loading={busy} onClick={fill} title="Fill the table with believable readings; no bench gets them">
        Fill it
      </Button>
      <TroubleLine trouble={trouble} />
    </>
  );
}

/** What is to be looked at again: here in full, elsewhere by its station. */
function Notes({ planId, book, revision, stage, onDry }: { planId: number; book: number; revision: number; stage: StageName; onDry: () => void }) {
  const notes = useQuery({
    queryKey: ['plan-notes', planId, revision],
    queryFn: () => get(client.GET('/api/plans/{plan_id}/notes', { params: { path: { plan_id: planId } } })),
    placeholderData: (before: Schemas['PlanNote'][] | undefined) => before,
    retry: false,
  });
  if (!notes.data?.length) return null;
  const here = notes.data.filter((n) => n.stage === stage);
  const elsewhere = [...new Set(notes.data.filter((n) => n.stage !== stage).map((n) => n.stage))];
  return (
    <section className="plan-notes" aria-label="Look again" aria-live="polite">
      {here.map((n, i) => (
        <p key={i} className="slip plan-note">
          <Typeset text={n.words.text} />
          {n.quantity && (
            <>
              {' '}
              <Link to={definitionOf(book, n.quantity)}>Write it</Link>
            </>
          )}
          {n.lacks_truth && (
            <>
              {' '}
              <button type="button" className="notice-act" onClick={onDry}>
                Say it there
              </button>
            </>
          )}
        </p>
      ))}
      {elsewhere.length > 0 && (
        <p className="quiet">
          To look at again:{' '}
          {elsewhere.map((other, i) => (
            <span key={other}>
              {i > 0 && ', '}
              <Link to={`/books/${book}/${other}`}>{stageNames[other]}</Link>
            </span>
          ))}
        </p>
      )}
    </section>
  );
}
