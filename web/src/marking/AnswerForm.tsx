// Returning a hand-in to its bench, or accepting it, with words.
import { Button, Input } from 'antd';
import { useState } from 'react';
import { type Schemas, Refusal, client, get } from '@/shared/api/client';
import { spokenDate } from '@/shared/ui/moments';
import { TroubleWords } from '@/shared/ui/TroubleWords';
import { useDraft } from '@/shared/ui/useDraft';

type Answer = Schemas['AnswerOut'];

interface Props {
  handIn: number;
  answer: Answer | null;
  onSaid: (said: Schemas['MarksAndAnswer']) => void;
  onClash: () => Promise<unknown>;
}

export function AnswerForm({ handIn, answer, onSaid, onClash }: Props) {
  const [words, setWords] = useDraft<string>(`answer ${handIn}`);
  const [trouble, setTrouble] = useState('');
  const [busy, setBusy] = useState(false);
  const shown = words ?? answer?.words ?? '';
  const send = (verdict: Answer['verdict']) => {
    setBusy(true);
    setTrouble('');
    const was = answer && { verdict: answer.verdict, words: answer.words };
    get(client.POST('/api/hand-ins/{hand_in_id}/answer', { params: { path: { hand_in_id: handIn } }, body: { verdict, words: shown, was } }))
      .then((said) => {
        onSaid(said);
        setWords(null);
      })
      .catch((e: unknown) => {
        setTrouble(e instanceof Error ? e.message : 'That did not work. Try again.');
        // what a colleague has said is shown; what was typed stays
        if (e instanceof Refusal && e.code === 'clash') {
          setWords(shown);
          void onClash();
        }
      })
      .finally(() => setBusy(false));
  };
  return (
    <form className="answer-form" onSubmit={(e) => e.preventDefault()}>
      <h2>Answer</h2>
      {answer && (
        <p className={`notice ${answer.verdict === 'accepted' ? 'good' : ''}`}>
          {answer.verdict === 'accepted' ? 'Accepted' : 'Returned'} by {answer.by}, {spokenDate(answer.at)}
        </p>
      )}
      <Input.TextArea
        autoSize={{ minRows: 2, maxRows: 10 }}
        aria-label="Words to the bench"
        placeholder="words to the bench, if any"
        maxLength={2000}
        value={shown}
        onChange={(e) => setWords(e.target.value)}
      />
      <div className="row">
        <Button
          type={answer ? 'default' : 'primary'}
          loading={busy}
          disabled={answer?.verdict === 'accepted' && shown === answer.words}
          onClick={() => send('accepted')}
        >
          Accept
        </Button>
        <Button loading={busy} disabled={answer?.verdict === 'returned' && shown === answer.words} onClick={() => send('returned')}>
          Return to the bench
        </Button>
      </div>
      <TroubleWords beside>{trouble}</TroubleWords>
    </form>
  );
}
