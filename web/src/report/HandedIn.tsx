// What has been handed in so far, what the teacher has said to it, and the marks once they are given back.
import type { RefObject } from 'react';
import type { Schemas } from '@/shared/api/client';
import { useBook } from '@/shared/book/context';
import { PartChanges } from '@/shared/ui/PartChanges';
import { spokenDate, when } from '@/shared/ui/moments';

type HandIn = Schemas['HandInOut'];

export function HandedIn({ list }: { list: RefObject<HTMLUListElement | null> }) {
  const { state } = useBook(({ state }) => ({ state }));
  const last = state.hand_ins.at(-1);
  if (!last) return null;
  const back = state.dates.marks_back;
  return (
    <>
      {last.answer && <Answer answer={last.answer} />}
      <ul className="hand-ins" ref={list} tabIndex={-1} aria-label="What has been handed in">
        {state.hand_ins.map((h) => (
          <li key={h.id}>
            Handed in {h.number > 1 ? `(${h.number}) ` : ''}
            {when(h.at)} by {h.by}
            {h.late && ', late'}: <a href={`/api/hand-ins/${h.id}/report.pdf`}>PDF</a>, <a href={`/api/hand-ins/${h.id}/report.html`}>HTML</a>
            {h.words && (
              <>
                , <a href={`/api/hand-ins/${h.id}/report.docx`}>DOCX</a>, <a href={`/api/hand-ins/${h.id}/report.odt`}>ODT</a>
              </>
            )}
            {h.number > 1 && <PartChanges handIn={h.id} words="What has changed since the one before" />}
            {h.marks.length > 0 && <Marks marks={h.marks} />}
          </li>
        ))}
      </ul>
      {back && new Date(back) > new Date() && <p className="quiet">Marks come back on {spokenDate(back)}.</p>}
    </>
  );
}

function Answer({ answer }: { answer: Schemas['AnswerOut'] }) {
  const returned = answer.verdict === 'returned';
  return (
    <div className={`notice ${returned ? '' : 'good'}`} role="status">
      <b>{returned ? 'Given back to you, to hand in again.' : 'Accepted.'}</b> {answer.words && <span className="said-words">{answer.words}</span>}{' '}
      <span className="quiet">{answer.by}</span>
    </div>
  );
}

function Marks({ marks }: { marks: HandIn['marks'] }) {
  return (
    <table className="given-marks" aria-label="Marks">
      <tbody>
        {marks.map((m) => (
          <tr key={m.title}>
            <th scope="row">{m.title}</th>
            <td>
              {m.place > 0 && (
                <>
                  <b>{m.level}</b> <span className="quiet">{`level ${m.place} of ${m.of}`}</span>
                </>
              )}
              {m.words && <span className="said-words">{m.words}</span>}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
