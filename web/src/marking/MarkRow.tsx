// A row of the marking grid: its levels, words, and what can be seen beside it. What a colleague has written meanwhile is not written over unseen.
import { Button, Input } from 'antd';
import { useEffect, useRef, useState } from 'react';
import { type Schemas, Refusal, client, get } from '@/shared/api/client';
import { TroubleWords } from '@/shared/ui/TroubleWords';
import { useDraft } from '@/shared/ui/useDraft';

type Said = Schemas['MarksAndAnswer'];
type Mark = Schemas['MarkOut'];
interface Wanted {
  level: number | null;
  words: string;
}

interface Props {
  handIn: number;
  row: Schemas['GridRowOut'];
  facts: readonly Schemas['FactOut'][];
  mark: Mark | undefined;
  before: Mark | undefined;
  onSaid: (said: Said) => void;
  onClash: () => Promise<unknown>;
}

export function MarkRow({ handIn, row, facts, mark, before, onSaid, onClash }: Props) {
  const kept: Wanted = { level: mark?.level ?? null, words: mark?.words ?? '' };
  const [draft, setDraft] = useDraft<Wanted>(`mark ${handIn} ${row.id}`);
  const [restored, setRestored] = useState(draft !== null);
  const [trouble, setTrouble] = useState('');
  const [clashed, setClashed] = useState(false);
  const shown = draft ?? kept;
  /** What stood there when writing began; one change is sent after the other, each over what the one before has left. */
  const known = useRef(kept);
  const line = useRef(Promise.resolve());
  const { level, words } = kept;
  const writing = draft !== null;
  useEffect(() => {
    if (!writing) known.current = { level, words };
  }, [level, words, writing]);
  const post = async (wanted: Wanted) => {
    const was = known.current;
    if (wanted.level !== was.level || wanted.words.trim() !== was.words) {
      const body = { row: row.id, ...wanted, was };
      const said = await get(client.POST('/api/hand-ins/{hand_in_id}/marks', { params: { path: { hand_in_id: handIn } }, body }));
      known.current = { ...wanted, words: wanted.words.trim() };
      onSaid(said);
    }
    // what has been typed since stays
    setDraft((now) => (now === wanted ? null : now));
  };
  const send = (wanted: Wanted) => {
    setDraft(wanted);
    setRestored(false);
    setTrouble('');
    setClashed(false);
    line.current = line.current
      .then(() => post(wanted))
      .catch(async (e: unknown) => {
        setTrouble(e instanceof Error ? e.message : 'That did not work. Try again.');
        if (e instanceof Refusal && e.code === 'clash') {
          await onClash();
          setClashed(true);
        }
      });
  };
  return (
    <fieldset className="mark-row">
      <legend>{row.title}</legend>
      {facts.length > 0 && (
        <ul className="mark-facts">
          {facts.map((fact) => (
            <li key={fact.text}>{fact.text}</li>
          ))}
        </ul>
      )}
      <div className="mark-levels" role="group" aria-label={`Level of ${row.title}`}>
        {row.levels.map((words, level) => (
          <button
            key={words + String(level)}
            type="button"
            aria-pressed={shown.level === level}
            onClick={() => send({ ...shown, level: shown.level === level ? null : level })}
          >
            {words}
          </button>
        ))}
      </div>
      {before?.level != null && <p className="quiet mark-before">Before: {row.levels[before.level]}</p>}
      <Input.TextArea
        autoSize={{ minRows: 1, maxRows: 6 }}
        aria-label={`Words to ${row.title}`}
        placeholder="words, if any"
        maxLength={600}
        value={shown.words}
        onChange={(e) => setDraft({ ...shown, words: e.target.value })}
        onBlur={() => draft && !clashed && send(draft)}
      />
      <TroubleWords beside>{trouble}</TroubleWords>
      {restored && draft && <p className="quiet">This was written before, and is not kept yet.</p>}
      {(trouble || restored) && draft && (
        <div className="row">
          <Button
            size="small"
            onClick={() => {
              // whoever presses has seen theirs
              if (clashed) known.current = kept;
              send(draft);
            }}
          >
            {clashed ? 'Keep mine instead' : restored ? 'Keep it' : 'Try again'}
          </Button>
          {clashed && (
            <Button
              size="small"
              onClick={() => {
                setDraft(null);
                setTrouble('');
                setClashed(false);
              }}
            >
              Keep theirs
            </Button>
          )}
        </div>
      )}
    </fieldset>
  );
}
