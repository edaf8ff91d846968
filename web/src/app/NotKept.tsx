// What the server would not keep: each with what was written, why, and what can be done. Nothing goes from here by itself.
import { Button } from 'antd';
import type { ReactNode } from 'react';
import { useBook, useBookStore } from '@/shared/book/context';
import type { Edit } from '@/shared/api/client';
import { type Difference, findDifferences, lookAt } from '@/shared/queue/differences';
import type { QueueRow } from '@/shared/queue/rows';
import { Rich } from '@/shared/ui/Rich';
import { Sheet } from '@/shared/ui/Sheet';

/** What people write, wherever it stands in an edit; all else in it are choices and ids. */
const WRITTEN = new Set(
  (
    'name called title words heading symbol unit formula value u source text reason caption alt ' +
    // of a plan
    'prompts safety kept_same notes hint levels low high count fewest_words trials of_name of_unit lines truths unknowns formulas scatter seconds'
  ).split(' '),
);

function textsIn(part: unknown, written = false): string[] {
  if (typeof part === 'string' || typeof part === 'number') return written && part !== '' ? [String(part)] : [];
  if (Array.isArray(part)) return part.flatMap((item: unknown) => textsIn(item, written));
  if (typeof part !== 'object' || part === null) return [];
  return Object.entries(part).flatMap(([field, value]: [string, unknown]) => (field === 'was' ? [] : textsIn(value, WRITTEN.has(field))));
}

/** What is written at the places where an edit of several fields differs from what it was made over. */
function textsWhere(differences: readonly Difference[], look: (path: readonly string[]) => unknown): string {
  return differences
    .flatMap(({ path }) =>
      textsIn(
        look(path),
        path.some((name) => WRITTEN.has(name)),
      ),
    )
    .join(' · ');
}

const mineIn = (edit: Edit) =>
  'becomes' in edit ? textsWhere(findDifferences(edit.was, edit.becomes), (path) => lookAt(edit.becomes, path)) : textsIn(edit).join(' · ');

/** Of an edit of several fields they come as the server keeps them. */
function theirsIn(edit: Edit, theirs: string): string {
  if (!('becomes' in edit)) return theirs;
  const now = JSON.parse(theirs) as unknown;
  return textsWhere(findDifferences(edit.was, edit.becomes), (path) => lookAt(now, path));
}

export function NotKept({ onClose }: { onClose: () => void }) {
  const { refused, state, symbolOf } = useBook(({ refused, state, symbolOf }) => ({ refused, state, symbolOf }));
  const store = useBookStore();
  const said = (row: QueueRow): ReactNode => {
    const { edit } = row;
    if (edit.type === 'set_reading') {
      const number = state.document.runs.find((r) => r.id === edit.run)?.settings.findIndex((s) => s.id === edit.setting) ?? -1;
      const where = number >= 0 ? `setting ${number + 1}` : 'a setting';
      return (
        <>
          <Rich text={symbolOf(edit.quantity)} />, {where}: <b className="mono">{edit.text || 'blank'}</b>
        </>
      );
    }
    if (edit.type === 'write_text') {
      const own = state.document.report.sections.find((s) => s.id === edit.section);
      // its title went with a section that has been taken away; those that every report has are called by a word
      const where = own?.title ?? (/\d/.test(edit.section) ? 'a section' : edit.section);
      return `${where}: ${edit.text.slice(0, 80)}${edit.text.length > 80 ? '…' : ''}`;
    }
    if (edit.type === 'batch') return edit.words;
    const written = mineIn(edit);
    return (
      <>
        {edit.type === 'write_plan' ? 'in the plan' : edit.type.replaceAll('_', ' ')}
        {written && (
          <>
            : <b>{written}</b>
          </>
        )}
      </>
    );
  };
  return (
    <Sheet title="Not kept yet" onClose={onClose}>
      {refused.length === 0 && <p className="quiet">Everything you wrote is kept.</p>}
      <ul className="not-kept">
        {refused.map((row) => (
          <li key={row.id}>
            <div>
              <div>{said(row)}</div>
              <p>{row.words}</p>
              {row.theirs !== null && (
                <p>
                  There stands now: <b className={row.edit.type === 'set_reading' ? 'mono' : ''}>{theirsIn(row.edit, row.theirs) || 'nothing'}</b>
                </p>
              )}
            </div>
            <span className="row">
              <Button size="small" type="primary" onClick={() => store.retry(row.id)}>
                {row.theirs === null ? 'Try again' : 'Write mine'}
              </Button>
              <Button size="small" onClick={() => store.leave(row.id)}>
                {row.theirs === null ? 'Leave it' : 'Keep theirs'}
              </Button>
            </span>
          </li>
        ))}
      </ul>
    </Sheet>
  );
}
