// A pasted class list: what it would change is shown before anything is kept.
import { useQuery } from '@tanstack/react-query';
import { Button, Checkbox, Input, Radio } from 'antd';
import { useState } from 'react';
import { type Schemas, client, get, upload } from '@/shared/api/client';
import { TroubleLine } from '@/shared/form/fields';
import { useSend } from '@/shared/form/useSend';
import { readDraft, useBegunWords } from '@/shared/ui/useDraft';
import { useSettled } from '@/shared/ui/useSettled';
import type { ClassPeople } from './people';

type ListLooked = Schemas['ListLooked'];
type Second = ListLooked['second'];

interface Props {
  people: ClassPeople;
  practicals: number[];
  keep: (next: ClassPeople) => void;
  close: () => void;
}

const draftOf = (classId: number) => `list ${classId}`;

export const isListBegun = (classId: number) => readDraft(draftOf(classId)) !== null;

export function ListSheet({ people, practicals, keep, close }: Props) {
  const [text, setText] = useBegunWords(draftOf(people.id));
  const [second, setSecond] = useState<Second>(null);
  const [withoutGone, setWithoutGone] = useState(false);
  const [trouble, send, busy] = useSend();
  const settled = useSettled(text, 300);
  const path = { class_id: people.id };
  const look = useQuery({
    queryKey: ['list', people.id, settled, second],
    queryFn: () => get(client.POST('/api/my-classes/{class_id}/list/look', { params: { path }, body: { text: settled, second } })),
    enabled: settled.trim() !== '',
    placeholderData: (before) => (settled.trim() ? before : undefined),
    gcTime: 0,
  });
  const leave = () => {
    setText('');
    close();
  };
  const keepIt = () =>
    send(async () => {
      keep(await get(client.POST('/api/my-classes/{class_id}/list', { params: { path }, body: { text, second, without_gone: withoutGone, practicals } })));
      leave();
    });
  const takeFiles = (files: File[]) =>
    send(async () => {
      const form = new FormData();
      for (const file of files) form.append('files', file);
      setText((await upload<Schemas['ListText']>('/api/my-classes/{class_id}/list/file', form, people.id)).text);
    });
  const found = settled.trim() ? look.data : undefined;
  return (
    <section className="card list-sheet" aria-labelledby="list-title">
      <div className="stack">
        <h2 id="list-title">The class list</h2>
        <p className="quiet">A name a line. A bench may stand beside it, after a tab or a comma. “Wren, Ada” is turned round.</p>
        <Input.TextArea
          aria-label="The class list, a name a line"
          value={text}
          onChange={(e) => setText(e.target.value)}
          autoFocus
          rows={14}
          spellCheck={false}
          placeholder={'Ada Wren\nTomas Lind\nMira Sall'}
        />
        <label className="list-file">
          <input
            type="file"
            multiple
            accept=".csv,.tsv,.txt,.xlsx,.ods,.zip"
            onChange={(e) => {
              const chosen = [...(e.target.files ?? [])];
              e.target.value = '';
              if (chosen.length) takeFiles(chosen);
            }}
          />
          <span>or from a file</span>
          <span className="quiet"> CSV, XLSX, ODS, or what the school’s office takes out as OneRoster</span>
        </label>
      </div>
      <div className="stack" aria-live="polite">
        {!found && <p className="quiet">What the list would change is shown here before it is kept.</p>}
        {found && <Looked found={found} />}
        {found && found.left.length > 0 && <p className="quiet">No names, and left out: {found.left.map((line) => `“${line}”`).join(', ')}.</p>}
        {found?.second && (
          <div>
            <p className="quiet">What stands second in a line is</p>
            <Radio.Group value={second ?? found.second} onChange={(e) => setSecond(e.target.value as Second)} aria-label="What stands second in a line">
              <Radio value="family">a family name</Radio>
              <Radio value="given">a given name, to be put first</Radio>
              <Radio value="bench">a bench</Radio>
            </Radio.Group>
          </div>
        )}
        {found && found.gone.length > 0 && (
          <Checkbox checked={withoutGone} onChange={(e) => setWithoutGone(e.target.checked)} name="gone">
            Take {found.gone.length === 1 ? 'the name' : `the ${found.gone.length} names`} that {found.gone.length === 1 ? 'is' : 'are'} gone off the list. What
            they wrote stays.
          </Checkbox>
        )}
        <TroubleLine trouble={look.isError ? { words: look.error.message, code: '', field: '' } : trouble} />
        <div className="row">
          <Button type="primary" onClick={keepIt} loading={busy} disabled={!found || found.troubles.length > 0 || text !== settled}>
            Keep the list
          </Button>
          {people.seats.length > 0 && <Button onClick={leave}>Leave it as it was</Button>}
        </div>
      </div>
    </section>
  );
}

function Looked({ found }: { found: ListLooked }) {
  if (found.troubles.length > 0)
    return (
      <ul className="notice bad plain-list">
        {found.troubles.map((t) => (
          <li key={t.text}>{t.text}</li>
        ))}
      </ul>
    );
  return (
    <>
      <p>
        <b>{count(found.new.length, 'new name', 'new names')}</b>
        {found.same > 0 && `, ${count(found.same, 'stays', 'stay')} as ${found.same === 1 ? 'it is' : 'they are'}`}
        {found.moved.length > 0 && `, ${found.moved.length} at another bench`}
        {found.gone.length > 0 && `, ${found.gone.length} gone`}.
      </p>
      <ul className="plain-list looked">
        {found.new.map((n) => (
          <li key={n.name}>
            <span className="tag good">new</span> {n.name}
            {n.bench && <span className="quiet"> · {n.bench}</span>}
          </li>
        ))}
        {found.moved.map((n) => (
          <li key={n.name}>
            <span className="tag warn">moved</span> {n.name}
            <span className="quiet">
              {' '}
              · from {n.was || 'no bench'} to {n.bench}
            </span>
          </li>
        ))}
        {found.gone.map((name) => (
          <li key={name}>
            <span className="tag">gone</span> {name}
          </li>
        ))}
      </ul>
    </>
  );
}

function count(n: number, one: string, many: string): string {
  return `${n} ${n === 1 ? one : many}`;
}
