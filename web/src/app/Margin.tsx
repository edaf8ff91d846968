// The margin: the plan's prompt, what the checks noticed, and the teacher's remarks.
import { Button, Checkbox, Input } from 'antd';
import { useState } from 'react';
import type { Slip, StageName } from '@/shared/api/client';
import { useBook, useBookStore, useDecimalMark } from '@/shared/book/context';
import { cellKey, nameOfSetting } from '@/shared/book/rows';
import { stageNames } from '@/shared/ui/MiniTrail';
import { Pictures } from '@/shared/ui/Pictures';
import { useDraft } from '@/shared/ui/useDraft';
import { useFocusKept } from '@/shared/ui/useFocusKept';
import { Remarks } from './Remarks';
import { Typeset } from '@/shared/ui/Typeset';

export function Margin({ stage, open, onToggle, onKeys }: { stage: StageName; open: boolean; onToggle: () => void; onKeys: () => void }) {
  const { state, analysis } = useBook(({ state, analysis }) => ({ state, analysis }));
  const prompt = state.document.plan.prompts?.[stage];
  const [margin, setMargin] = useState<HTMLElement | null>(null);
  useFocusKept(margin);
  if (!open)
    return (
      <aside ref={setMargin} className="margin margin-folded" tabIndex={-1}>
        <Button type="text" size="small" onClick={onToggle} aria-label="Unfold the margin" title="Unfold the margin">
          <span aria-hidden="true">‹</span>
          <span className="margin-tab" aria-hidden="true">
            Margin
          </span>
        </Button>
        {analysis.slips.length > 0 && <div className="trail-slips">{analysis.slips.length}</div>}
      </aside>
    );
  const remarks = state.remarks.filter((r) => r.stage === stage);
  const elsewhere = state.remarks.filter((r) => r.stage !== stage && !r.settled);
  return (
    <aside ref={setMargin} className="margin" aria-label="Margin" tabIndex={-1}>
      <Button className="margin-fold" type="text" size="small" onClick={onToggle} aria-label="Fold the margin away" title="Fold the margin away">
        ›
      </Button>
      {prompt && <p className="margin-prompt">{prompt}</p>}
      {stage !== 'ask' && <Pictures stage={stage} />}
      <Steps stage={stage} />
      {analysis.slips.length > 0 && (
        <>
          <h2>Look again</h2>
          <ul>
            {analysis.slips.map((slip, i) => (
              <li key={i}>
                <SlipLine slip={slip} />
              </li>
            ))}
          </ul>
        </>
      )}
      {(stage === 'look' || stage === 'fit') && <AboutGraphs />}
      {(remarks.length > 0 || state.can_remark) && <h2>Remarks on {stageNames[stage]}</h2>}
      <Remarks stage={stage} />
      {elsewhere.length > 0 && (
        <p className="quiet margin-elsewhere">More remarks: {[...new Set(elsewhere.map((r) => stageNames[r.stage as StageName]))].join(', ')}</p>
      )}
      <p className="margin-keys">
        <Button type="text" size="small" onClick={onKeys}>
          Keys <kbd>?</kbd>
        </Button>
      </p>
    </aside>
  );
}

/** What is to be done at this stage, to be ticked. */
function Steps({ stage }: { stage: StageName }) {
  const { state, waiting } = useBook(({ state, waiting }) => ({ state, waiting }));
  const store = useBookStore();
  const steps = state.document.plan.steps?.[stage] ?? [];
  if (steps.length === 0) return null;
  let done = state.document.ticked;
  for (const { edit } of waiting) if (edit.type === 'tick_step') done = edit.done ? [...done, edit.step] : done.filter((step) => step !== edit.step);
  return (
    <ul className="margin-steps" aria-label="Steps">
      {steps.map((step) => (
        <li key={step.id}>
          <Checkbox
            checked={done.includes(step.id)}
            disabled={!state.can_edit}
            onChange={(e) => store.edit({ type: 'tick_step', step: step.id, done: e.target.checked })}
          >
            {step.text}
          </Checkbox>
        </li>
      ))}
    </ul>
  );
}

/** What a reader of the graphs should know: bars hidden by their marker, points off the shown range, too few points for a line. */
function AboutGraphs() {
  const { analysis } = useBook(({ analysis }) => ({ analysis }));
  const about = analysis.graphs.filter((g) => g.remarks.length > 0);
  if (about.length === 0) return null;
  return (
    <>
      <h2>About the graph{about.length > 1 ? 's' : ''}</h2>
      {about.map((g) => (
        <div key={g.graph} className="quiet margin-graph">
          {analysis.graphs.length > 1 && (
            <b>
              <Typeset text={g.figure?.title ?? ''} />
            </b>
          )}
          {g.remarks.map((r) => (
            <p key={r.text}>{r.text}</p>
          ))}
        </div>
      ))}
    </>
  );
}

function SlipLine({ slip }: { slip: Slip }) {
  const { state, quantities, plainSymbolOf } = useBook(({ state, quantities, plainSymbolOf }) => ({ state, quantities, plainSymbolOf }));
  const store = useBookStore();
  const about = [state.id, slip.kind, slip.run, slip.setting, slip.quantity, slip.repeat].join(' ');
  const [reason, setReason] = useDraft<string>(`aside ${about}`);
  const run = state.document.runs.find((r) => r.id === slip.run);
  const row = (run?.settings ?? []).findIndex((s) => s.id === slip.setting);
  const first = run?.headings ? quantities.find((q) => q.id === run.headings?.[0]) : quantities.find((q) => q.kind === 'changed' || q.kind === 'measured');
  const mark = useDecimalMark();
  const name = nameOfSetting(run?.settings[row]?.readings, first, first ? plainSymbolOf(first.id) : '', mark) || `Setting ${row + 1}`;
  const place = { run: slip.run, setting: slip.setting, quantity: slip.quantity, repeat: slip.repeat };
  const elsewhere = state.document.runs.length > 1 && run && run.id !== state.document.runs[0]?.id;
  return (
    <div className="slip">
      <button type="button" className="slip-look" onClick={() => store.goTo(cellKey(slip.setting, slip.quantity, slip.repeat ?? 0))}>
        <b>
          {elsewhere ? `${run.name}, ` : ''}
          {name}
          {slip.repeat !== null && slip.kind !== 'direction' ? `, repeat ${slip.repeat + 1}` : ''}
        </b>
        <Typeset text={slip.message.text} />
      </button>
      {state.can_edit && reason === null && (
        <div className="slip-acts">
          <button type="button" onClick={() => setReason('')}>
            set aside
          </button>
          <button
            type="button"
            onClick={() =>
              store.edit({ type: 'confirm_slip', kind: slip.kind, ...place, right: true, by: '' }, 'It will not be asked again while it stands as it is.')
            }
          >
            it is right
          </button>
        </div>
      )}
      {reason !== null && (
        <form
          className="slip-reason"
          onSubmit={(e) => {
            e.preventDefault();
            const whole = slip.repeat === null || slip.kind === 'duplicate_setting' || slip.kind === 'blank';
            if (reason.trim())
              store.edit({
                type: 'set_aside',
                run: slip.run,
                setting: slip.setting,
                quantity: whole ? null : slip.quantity,
                repeat: whole ? null : slip.repeat,
                reason: reason.trim(),
              });
            setReason(null);
          }}
          onKeyDown={(e) => {
            if (e.key === 'Escape') setReason(null);
          }}
        >
          <Input
            size="small"
            autoFocus
            value={reason}
            maxLength={300}
            aria-label="Why is it left out?"
            placeholder="why is it left out?"
            onChange={(e) => setReason(e.target.value)}
          />
          <Button size="small" htmlType="submit" disabled={!reason.trim()}>
            Set aside
          </Button>
        </form>
      )}
    </div>
  );
}
