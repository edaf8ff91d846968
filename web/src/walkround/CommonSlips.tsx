// What several benches have in common, each with one remark to all of them; and the three commonest large, for everybody.
import { Button, Input } from 'antd';
import { useEffect, useState } from 'react';
import { type Schemas, client, get } from '@/shared/api/client';
import { TroubleLine } from '@/shared/form/fields';
import { useSend } from '@/shared/form/useSend';
import { useDraft } from '@/shared/ui/useDraft';
import type { Tile } from './tiles';

type Common = Schemas['CommonSlip'];

interface Begun {
  slip: Common;
  text: string;
}

interface Left {
  slip: Common;
  benches: number;
}

const isSame = (a: Common, b: Common) => a.kind === b.kind && a.of === b.of;

const headOf = (slip: Common) => (slip.of ? `${slip.of}: ${slip.general.text}` : slip.general.text);

export function CommonSlips({ practical, common, tiles }: { practical: number; common: readonly Common[]; tiles: readonly Tile[] }) {
  const [draft, keep] = useDraft<Begun[]>(`remarks to several ${practical}`);
  const begun = draft ?? [];
  const [left, setLeft] = useState<Left[]>([]);
  // a remark goes on being written, and is said to be left, where too few benches have its slip any more
  const shown = [...begun, ...left].reduce((so: Common[], { slip }) => (so.some((s) => isSame(s, slip)) ? so : [...so, slip]), [...common]);
  // over what is begun by then: another remark may be begun while one is on its way
  const write = (slip: Common, text: string | null) =>
    keep((before) => {
      const others = (before ?? []).filter((b) => !isSame(b.slip, slip));
      const now = text === null ? others : [...others, { slip, text }];
      return now.length ? now : null;
    });
  if (shown.length === 0) return null;
  return (
    <section className="card common-slips" aria-label="Common slips">
      <h2>The same at several benches</h2>
      <ul>
        {shown.map((slip) => (
          <li key={`${slip.kind}:${slip.of}`}>
            <OneCommon
              practical={practical}
              slip={slip}
              tiles={tiles}
              text={begun.find((b) => isSame(b.slip, slip))?.text ?? null}
              onWrite={(text) => write(slip, text)}
              left={left.find((l) => isSame(l.slip, slip))?.benches ?? 0}
              onLeft={(benches) => setLeft((before) => [...before.filter((l) => !isSame(l.slip, slip)), { slip, benches }])}
            />
          </li>
        ))}
      </ul>
    </section>
  );
}

interface OneProps {
  practical: number;
  slip: Common;
  tiles: readonly Tile[];
  /** The remark that is being written, or null. */
  text: string | null;
  onWrite: (text: string | null) => void;
  /** At how many benches one has been left. */
  left: number;
  onLeft: (benches: number) => void;
}

function OneCommon({ practical, slip, tiles, text, onWrite, left, onLeft }: OneProps) {
  const [trouble, send, busy] = useSend();
  const benches = tiles.filter((t) => slip.books.includes(t.book)).map((t) => t.bench);
  return (
    <>
      <p>
        <b>{headOf(slip)}</b> <span className="quiet">{benches.join(', ')}</span>
      </p>
      {left > 0 && (
        <p className="quiet" role="status">
          It stands in the margin of {left} benches.
        </p>
      )}
      {text === null ? (
        <Button size="small" onClick={() => onWrite(slip.general.text)}>
          One remark to these {slip.books.length}
        </Button>
      ) : (
        <form
          onSubmit={(e) => {
            e.preventDefault();
            send(async () => {
              const stage: Schemas['RemarksIn']['stage'] = slip.kind === 'pool' ? 'find' : 'read';
              const body = { books: [...slip.books], stage, text };
              const answer = await get(client.POST('/api/practicals/{practical_id}/remarks', { params: { path: { practical_id: practical } }, body }));
              onLeft(answer.written);
              onWrite(null);
            });
          }}
        >
          <Input.TextArea aria-label="The remark" autoSize value={text} maxLength={2000} autoFocus onChange={(e) => onWrite(e.target.value)} />
          <TroubleLine trouble={trouble} fields={[]} />
          <div className="row">
            <Button size="small" type="primary" htmlType="submit" loading={busy} disabled={!text.trim()}>
              Leave it at all of them
            </Button>
            <Button size="small" type="text" onClick={() => onWrite(null)}>
              Not now
            </Button>
          </div>
        </form>
      )}
    </>
  );
}

/** The lesson is stopped: what most have in common, without benches, large enough for the back of the room. */
export function Stopped({ common, onClose }: { common: readonly Common[]; onClose: () => void }) {
  useEffect(() => {
    const press = (e: KeyboardEvent) => e.key === 'Escape' && onClose();
    window.addEventListener('keydown', press);
    return () => window.removeEventListener('keydown', press);
  }, [onClose]);
  return (
    <div className="stopped" role="dialog" aria-modal="true" aria-label="For everybody">
      <h2>Look at this together</h2>
      {common.length > 0 ? (
        <ol>
          {common.slice(0, 3).map((slip) => (
            <li key={`${slip.kind}:${slip.of}`}>{headOf(slip)}</li>
          ))}
        </ol>
      ) : (
        <p>No slip stands at more than one bench.</p>
      )}
      <Button autoFocus onClick={onClose}>
        On with the lesson
      </Button>
    </div>
  );
}
