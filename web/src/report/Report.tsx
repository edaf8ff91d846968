// Report: a sheet of paper with live blocks; what is computed follows the readings, what is written is the bench's own.
import type { Schemas } from '@/shared/api/client';
import { isWorded } from '@/shared/book/quantities';
import { useBook } from '@/shared/book/context';
import { Graph } from '@/shared/graph/Graph';
import { Maths } from '@/shared/ui/Maths';
import { OwnText } from '@/shared/ui/OwnText';
import { Rich } from '@/shared/ui/Rich';
import { benchName } from '@/shared/ui/benchName';
import { told } from '@/shared/ui/told';
import { HandIn } from './HandIn';
import './report.css';

export function Report() {
  const { state, analysis } = useBook(({ state, analysis }) => ({ state, analysis }));
  const fit = analysis.fits[0];
  const figure = analysis.graphs.find((g) => g.graph === fit?.graph)?.figure;
  const tokens = Object.entries(analysis.tokens);
  return (
    <div className="report-stage">
      <HandIn />
      <article className="paper" aria-label="Report">
        <h1>{state.document.title}</h1>
        <p className="quiet">
          {state.bench && `${benchName(state.bench, 'Bench')}: `}
          {state.names.join(', ')}
          <br />
          {[state.school, state.class_name].filter(Boolean).join(', ')}
        </p>
        {state.document.question && (
          <>
            <h2>Question</h2>
            <p>{state.document.question}</p>
          </>
        )}
        <h2>What we expected</h2>
        <OwnText section="expectation" label="What we expected" hint="What did you expect before you measured?" rows={2} />
        <h2>Method</h2>
        <OwnText section="method" label="Method" hint="What you did, so that somebody else could do it again." rows={3} />
        <h2>Readings</h2>
        <ReadingsTable />
        <p className="quiet">{told(analysis.convention_words)}</p>
        {figure && (
          <>
            <h2>Graph</h2>
            <Graph figure={figure} height={360} />
          </>
        )}
        {fit && !fit.trouble && (
          <>
            <p className="quiet">
              A line through {fit.n} points, {told(fit.method, '; ')}:
            </p>
            <Maths tex={fit.equation_tex} block />
            <ul>
              <li>Gradient: {fit.gradient?.text}</li>
              <li>
                Intercept: {fit.intercept?.text}. {told(fit.intercept_words)}
              </li>
              <li>{told(fit.within, '; ')}.</li>
              {fit.pattern && <li>{told(fit.pattern.words)}</li>}
            </ul>
          </>
        )}
        {analysis.findings.map((f) => (
          <ReportFinding key={f.finding} finding={f} />
        ))}
        <SetAsideList />
        <h2>Discussion</h2>
        <OwnText
          section="discussion"
          label="Discussion"
          hint="Does it agree with what you expected? What was left out, and why? What makes most of the uncertainty?"
          rows={5}
        />
        <h2>Conclusion</h2>
        <OwnText section="conclusion" label="Conclusion" hint="The answer to the question, with its number." rows={3} />
        {state.can_edit && tokens.length > 0 && <Tokens tokens={tokens} />}
      </article>
    </div>
  );
}

function ReportFinding({ finding: f }: { finding: Schemas['FindingResult'] }) {
  return (
    <>
      <h2>Finding: {f.name}</h2>
      {f.trouble && <p className="notice">{f.trouble.message}</p>}
      {f.value && f.in_full && !f.rounding && <p className="notice">You have not stated your rounded value yet.</p>}
      {f.value && !(f.in_full && !f.rounding) && (
        <>
          <Maths tex={`${f.numbers_tex} = ${f.value.value_tex}`} block />
          <p>
            <b>
              <Rich text={f.symbol} /> = {f.value.text}
            </b>
          </p>
          {f.needed && <p>What would have to be seen to say that it agrees, written before: {f.needed}</p>}
          {f.awaits_needed && <p className="notice">You have not written yet what you would need to see before you say that this agrees.</p>}
          {f.compared.map((c) => (
            <p key={c.finding}>{told(c.words)}</p>
          ))}
          {f.accepted && !f.awaits_needed && (
            <p>
              Accepted value: {f.accepted.text} ({f.accepted_source}). {told(f.comparison)}
            </p>
          )}
        </>
      )}
    </>
  );
}

function ReadingsTable() {
  const { state, analysis, quantities } = useBook(({ state, analysis, quantities }) => ({ state, analysis, quantities }));
  const run = analysis.runs[0];
  const settings = state.document.runs[0]?.settings ?? [];
  const shown = run?.columns.filter((c) => !c.constant && !c.trouble && quantities.find((q) => q.id === c.quantity)?.kind !== 'constant') ?? [];
  const words = new Set(quantities.filter(isWorded).map((q) => q.id));
  const filled = settings.filter((_, i) => shown.some((c) => c.cells[i]?.value !== null && c.cells[i]?.value !== undefined));
  if (run?.logged.length) return <p>{told(run.logged)}</p>;
  if (filled.length === 0) return <p className="notice">There are no readings yet.</p>;
  return (
    <div className="paper-scroll">
      <table className="paper-table">
        <thead>
          <tr>
            {shown.map((c) => (
              <th key={c.quantity} scope="col" className={words.has(c.quantity) ? 'paper-words' : ''}>
                <Rich text={c.symbol} />
                {c.unit ? ` / ${/[/ ]/.test(c.unit) ? `(${c.unit})` : c.unit}` : ''}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {settings.map((s, i) =>
            filled.includes(s) ? (
              <tr key={s.id} className={s.set_aside ? 'set-aside' : ''}>
                {shown.map((c) => {
                  const cell = c.cells[i];
                  return (
                    <td key={c.quantity} className={words.has(c.quantity) ? 'paper-words' : ''}>
                      {cell?.value_text ? `${cell.value_text}${cell.u_text ? ` ± ${cell.u_text}` : ''}` : '–'}
                    </td>
                  );
                })}
              </tr>
            ) : null,
          )}
        </tbody>
      </table>
    </div>
  );
}

function SetAsideList() {
  const { state, quantities } = useBook(({ state, quantities }) => ({ state, quantities }));
  const items = (state.document.runs[0]?.log?.aside ?? []).map((part) => `Rows ${part.first + 1} to ${part.last + 1}: ${part.reason}`);
  (state.document.runs[0]?.settings ?? []).forEach((s, i) => {
    if (s.set_aside) items.push(`Setting ${i + 1}: ${s.set_aside}`);
    for (const [key, entries] of Object.entries(s.readings ?? {}))
      for (const e of entries) {
        const q = quantities.find((x) => x.id === key);
        if (e?.set_aside && q) items.push(`Setting ${i + 1}, ${q.name}, ${e.text} ${q.unit}: ${e.set_aside}`);
      }
  });
  if (items.length === 0) return null;
  return (
    <>
      <h2>Left out, and why</h2>
      <ul>
        {items.map((item) => (
          <li key={item}>{item}</li>
        ))}
      </ul>
    </>
  );
}

function Tokens({ tokens }: { tokens: [string, string][] }) {
  return (
    <details className="paper-tokens">
      <summary>Numbers that stay live in your text</summary>
      <p className="quiet">Write the name in braces, and the number follows your analysis.</p>
      <ul>
        {tokens.map(([name, value]) => (
          <li key={name}>
            <code className="mono">{`{${name}}`}</code> {value}
          </li>
        ))}
      </ul>
    </details>
  );
}
