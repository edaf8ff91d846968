// What a finding is compared with: an accepted value, other findings, the same finding from the other runs.
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { type Schemas, client, get } from '@/shared/api/client';
import { changeFinding } from '@/shared/book/choices';
import { useBook, useBookStore } from '@/shared/book/context';
import { NumberLine } from '@/shared/graph/NumberLine';
import { told } from '@/shared/ui/told';
import { Explained } from '@/shared/words/Explained';
import { TroubleWords } from '@/shared/ui/TroubleWords';
import { Needed } from './Needed';
import { Typeset } from '@/shared/ui/Typeset';
import { SymbolSelect } from '@/shared/ui/SymbolSelect';

type Result = Schemas['FindingResult'];

const toneOf = (verdict: Result['verdict']) => (verdict === 'differ' ? 'bad' : verdict === 'agree' ? 'good' : '');

export function Comparisons({ finding, result: f }: { finding: Schemas['Finding']; result: Result }) {
  const { state, analysis } = useBook(({ state, analysis }) => ({ state, analysis }));
  const store = useBookStore();
  const others = analysis.findings.filter((o) => o.finding !== f.finding && o.value && o.unit === f.unit);
  const texts: Record<string, string | undefined> = {
    'this finding': f.value?.text,
    accepted: f.accepted?.text,
    ...Object.fromEntries(f.compared.map((c) => [c.name, c.value.text])),
  };
  const compare = (chosen: string[]) => store.edit(changeFinding(finding, { compare: chosen }));
  const several = state.document.runs.length > 1;
  if (!f.number_line && f.compared.length === 0 && others.length === 0 && !several && !f.awaits_needed) return null;
  return (
    <div className="card">
      <h2>{f.accepted && f.compared.length === 0 ? 'Compared with the accepted value' : 'Compared'}</h2>
      {f.awaits_needed && <Needed finding={finding} />}
      {f.needed && <p className="find-note">You wrote that you would need to see: {f.needed}. Do you see it?</p>}
      {f.number_line && (
        <NumberLine
          line={f.number_line}
          marks={f.number_line.marks.map(({ name, value, u }, i) => ({
            name,
            value,
            u,
            look: i,
            tone: name === 'accepted' ? 'accepted' : 'plain',
            note: texts[name] ?? '',
          }))}
        />
      )}
      {f.comparison.length > 0 && (
        <p className={`notice ${toneOf(f.verdict)}`}>
          <Explained text={told(f.comparison)} />
        </p>
      )}
      {f.accepted && (
        <p className="quiet find-note">
          Accepted: {f.accepted.text}, {f.accepted_source}.
        </p>
      )}
      {f.compared.map((c) => (
        <div key={c.finding} className="find-compared">
          {c.words.length > 0 && (
            <p className={`notice ${toneOf(c.verdict)}`}>
              <Explained text={told(c.words)} />
            </p>
          )}
          <p className="quiet find-note">
            {c.name}: {c.value.text}. What both rest on is not counted twice.
          </p>
        </div>
      ))}
      {(others.length > 0 || finding.compare.length > 0) && (
        <label className="row labelled">
          <span className="quiet">compare with</span>
          <SymbolSelect
            mode="multiple"
            size="small"
            aria-label="Compare with other findings"
            placeholder="another finding"
            value={[...finding.compare]}
            disabled={!state.can_edit}
            options={others.map((o) => ({ value: o.finding, label: o.name }))}
            className="at-least-long"
            popupMatchSelectWidth={false}
            onChange={compare}
          />
        </label>
      )}
      {several && !f.awaits_needed && <AcrossRuns finding={f.finding} />}
    </div>
  );
}

/** The same finding made from every run in turn; worked out when somebody asks. */
function AcrossRuns({ finding }: { finding: string }) {
  const { state, run } = useBook(({ state, run }) => ({ state, run }));
  const [open, setOpen] = useState(false);
  const found = useQuery({
    queryKey: ['across', state.id, state.revision, run, finding],
    queryFn: () => get(client.GET('/api/books/{book_id}/across-runs', { params: { path: { book_id: state.id }, query: { finding, run } } })),
    enabled: open,
    placeholderData: (before) => before,
    retry: false,
  });
  const side = found.data;
  return (
    <details className="find-help" onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary>The same from every run</summary>
      <TroubleWords beside>{found.error?.message}</TroubleWords>
      {side?.number_line && (
        <NumberLine
          line={side.number_line}
          marks={side.number_line.marks.map((m) => {
            const row = side.rows.find((r) => r.name === m.name);
            return { ...m, look: row?.look ?? 0, note: row?.value?.text ?? '' };
          })}
        />
      )}
      {side?.rows.map((r) => (
        <p key={r.key}>
          {r.name}: {r.value ? <b>{r.value.text}</b> : null}{' '}
          <span className="quiet">
            <Typeset text={told(r.words)} />
          </span>
        </p>
      ))}
    </details>
  );
}
