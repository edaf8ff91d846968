// A station of a plan: as its teacher writes it, or as a bench will see it; with what the plan says beside it.
import { useQuery } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { type BookState, type StageName, client, get } from '@/shared/api/client';
import { BookProvider, useBook } from '@/shared/book/context';
import { GlassStore } from '@/shared/book/glass';
import { Pictures } from '@/shared/ui/Pictures';
import { type Glass, PlanMargin } from '@/plan/PlanMargin';
import { TroubleWords } from '@/shared/ui/TroubleWords';
import { Quietly } from './Quietly';
import { Station } from './Station';
import { UndoBar } from './UndoBar';

export function PlanBody({ planId, stage, page }: { planId: number; stage: StageName; page: (main: HTMLElement | null) => void }) {
  const [glass, setGlass] = useState<Glass>({ on: false, seed: 0 });
  return (
    <div className="book-body plan">
      <main className="book-page" id="page" ref={page} tabIndex={-1}>
        {stage === 'pool' ? (
          <p className="quiet">The pool brings the benches’ findings together. It fills once the plan is given out and benches have findings.</p>
        ) : glass.on ? (
          <SeenByBench planId={planId} stage={stage} seed={glass.seed} onEmpty={() => setGlass({ on: true, seed: 0 })} />
        ) : (
          <Station stage={stage} />
        )}
      </main>
      <PlanMargin planId={planId} stage={stage} glass={glass} onGlass={setGlass} />
    </div>
  );
}

/** What would stand in the benches’ margin; pictures at Ask stand in the page. */
function Prompt({ stage }: { stage: StageName }) {
  const { prompts } = useBook(({ state }) => ({ prompts: state.document.plan.prompts }));
  const prompt = prompts?.[stage];
  return (
    <>
      {prompt && <p className="glass-prompt">{prompt}</p>}
      {stage !== 'ask' && <Pictures stage={stage} />}
    </>
  );
}

function SeenByBench({ planId, stage, seed, onEmpty }: { planId: number; stage: StageName; seed: number; onEmpty: () => void }) {
  const { state } = useBook(({ state }) => ({ state }));
  const seen = useQuery({
    queryKey: ['plan-seen', planId, state.revision, seed],
    queryFn: () => get(client.GET('/api/plans/{plan_id}/seen', { params: { path: { plan_id: planId }, query: { seed } } })),
    placeholderData: (before) => before,
    retry: false,
  });
  const work = seen.data;
  const store = useMemo(
    () =>
      work
        ? new GlassStore({ ...state, ...work, owner: null, plan: null, bench: 'Sandpiper', names: [], can_edit: true, can_remark: false } satisfies BookState)
        : null,
    // the rest of the state changes with every look of others, and is nothing that a bench would see
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [work, state.id],
  );
  if (seen.isError) return <TroubleWords>{seen.error.message}</TroubleWords>;
  if (!store) return <Quietly words="Looking through a bench’s eyes" />;
  return (
    <div>
      <p className="glass-word">
        <span>{seed ? 'As a bench sees it, with the readings of a dry run. Nothing is kept here.' : 'As a bench sees it at first. Nothing is kept here.'}</span>
        {seed > 0 && (
          <button type="button" className="notice-act" onClick={onEmpty}>
            without readings
          </button>
        )}
      </p>
      <BookProvider store={store}>
        <Prompt stage={stage} />
        <Station stage={stage} />
        <UndoBar />
      </BookProvider>
    </div>
  );
}
