// The bench rounds first; then it is told whether that is right, and why.
import { Button } from 'antd';
import type { Schemas } from '@/shared/api/client';
import { useBook, useBookStore } from '@/shared/book/context';
import { told } from '@/shared/ui/told';
import { TroubleWords } from '@/shared/ui/TroubleWords';
import { useDraft } from '@/shared/ui/useDraft';
import { Exact } from '@/shared/ui/Exact';

export function Rounding({ finding, result: f }: { finding: Schemas['Finding']; result: Schemas['FindingResult'] }) {
  const { state } = useBook(({ state }) => ({ state }));
  const store = useBookStore();
  const [draft, setDraft] = useDraft<{ text: string; was: string }>(`rounding ${state.id} ${finding.id}`);
  const text = draft?.text ?? finding.rounded;
  const write = () => {
    if (draft && draft.text.trim() !== draft.was) store.edit({ type: 'write_rounding', finding: finding.id, text: draft.text.trim(), was: draft.was });
    setDraft(null);
  };
  return (
    <form
      className="find-rounding"
      onSubmit={(e) => {
        e.preventDefault();
        write();
      }}
    >
      <p>
        In full it is <b className="mono">{f.in_full}</b>. How do you state it?
      </p>
      <div className="row">
        <Exact
          className="field-wide"
          aria-label="Your own rounding"
          value={text}
          maxLength={80}
          disabled={!state.can_edit}
          placeholder="value ± uncertainty unit"
          status={f.rounding_trouble && draft === null ? 'error' : ''}
          onChange={(e) => setDraft((before) => ({ text: e.target.value, was: before?.was ?? finding.rounded }))}
        />
        {state.can_edit && (
          <Button htmlType="submit" type="primary" disabled={!text.trim()}>
            State it
          </Button>
        )}
        <span className="quiet">for ± you may type +-</span>
      </div>
      {draft === null && f.rounding_trouble && <TroubleWords beside>{f.rounding_trouble.message}</TroubleWords>}
      {draft === null && f.rounding && <p className={`notice ${f.rounding.right ? 'good' : ''}`}>{told(f.rounding.words)}</p>}
    </form>
  );
}
