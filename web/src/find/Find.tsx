// Find: from fits, means and read-offs to numbers with a name; those of the plan, and the bench's own.
import { Button } from 'antd';
import { useState } from 'react';
import type { Schemas } from '@/shared/api/client';
import { useBook, useSlopeWord } from '@/shared/book/context';
import { RunNames } from '@/shared/book/RunNames';
import { FindingForm, isChangeBegun } from './FindingForm';
import { FindingSheet } from './FindingSheet';
import './find.css';

export function Find() {
  const word = useSlopeWord();
  const { analysis, state, collected, draft } = useBook(({ analysis, state, collected, draft }) => ({ analysis, state, collected, draft }));
  // as it was when its form was opened: what somebody else changes meanwhile is not taken back
  const [writing, setWriting] = useState<Schemas['Finding'] | 'new' | null>(() => state.document.findings.find((f) => isChangeBegun(state.id, f.id)) ?? null);
  const rewritten = writing === 'new' ? null : writing;
  const done = () => setWriting(null);
  const open = writing === 'new' || (writing === null && (collected.length > 0 || draft !== null));
  // what is written is then the title of the page
  const alone = analysis.findings.every((f) => f.finding === rewritten?.id);
  const form = rewritten && <FindingForm key={rewritten.id} finding={rewritten} collected={[]} alone={alone} onDone={done} />;
  const sheets = analysis.findings.map((f) => {
    const finding = state.document.findings.find((d) => d.id === f.finding);
    if (!finding) return null;
    return rewritten?.id === f.finding ? form : <FindingSheet key={f.finding} finding={finding} result={f} onChange={() => setWriting(finding)} />;
  });
  // what somebody else has removed meanwhile stays as it is being written
  if (!analysis.findings.some((f) => f.finding === rewritten?.id)) sheets.push(form);
  return (
    <div className="stack find-stage">
      <RunNames />
      {analysis.findings.length === 0 && !open && !form && (
        <>
          <h1>There is no finding yet</h1>
          {state.can_edit && <p className="notice">Make one from a {word}, the mean of a stretch, a value read off, or a formula of these.</p>}
        </>
      )}
      {sheets}
      {open && state.can_edit && <FindingForm key="new" finding={null} collected={collected} alone={alone} onDone={done} />}
      {!open && state.can_edit && (
        <p>
          <Button onClick={() => setWriting('new')}>A finding of your own</Button>
        </p>
      )}
    </div>
  );
}
