// A paragraph of the bench's own. Saved when leaving it and while pausing; names in braces are shown with their live value.
import { Input } from 'antd';
import { type ReactNode, useEffect, useRef, useState } from 'react';
import { useBook, useBookStore } from '@/shared/book/context';
import './own-text.css';

export type Section = 'expectation' | 'method' | 'discussion' | 'conclusion' | 'choice';
const PAUSE = 1200;

/** The text as it stands, with what is still on its way to the server. */
function useSavedText(section: Section): string {
  const { state, waiting } = useBook(({ state, waiting }) => ({ state, waiting }));
  let text = state.document.texts?.[section] ?? '';
  for (const w of waiting) if (w.edit.type === 'write_text' && w.edit.section === section) text = w.edit.text;
  return text;
}

export function OwnText({ section, label, hint, rows = 3 }: { section: Section; label: string; hint: string; rows?: number }) {
  const { state } = useBook(({ state }) => ({ state }));
  const store = useBookStore();
  const saved = useSavedText(section);
  const [draft, setDraft] = useState<string | null>(null);
  const latest = useRef({ draft, saved });
  useEffect(() => {
    latest.current = { draft, saved };
  });
  const save = () => {
    const now = latest.current;
    if (now.draft === null || now.draft === now.saved) return;
    store.edit({ type: 'write_text', section, text: now.draft, was: now.saved });
  };
  useEffect(() => {
    if (draft === null) return;
    const timer = window.setTimeout(save, PAUSE);
    return () => window.clearTimeout(timer);
  });
  if (!state.can_edit) return <p className="own-text-read">{saved ? <Live text={saved} /> : <span className="quiet">Nothing is written here yet.</span>}</p>;
  const text = draft ?? saved;
  return (
    <div className="own-text">
      <Input.TextArea
        value={text}
        aria-label={label}
        placeholder={hint}
        autoSize={{ minRows: rows }}
        data-dirty={draft !== null && draft !== saved ? 'yes' : 'no'}
        onChange={(e) => setDraft(e.target.value)}
        onBlur={() => {
          save();
          setDraft(null);
        }}
      />
      {/\{[^{}\s]+\}/.test(text) && (
        <p className="own-text-read">
          <Live text={text} />
        </p>
      )}
    </div>
  );
}

/** Text with `{E}` replaced by what the analysis gives now. */
export function Live({ text }: { text: string }): ReactNode {
  const { analysis } = useBook(({ analysis }) => ({ analysis }));
  return text.split(/(\{[^{}\s]{1,24}\})/).map((piece, i) => {
    const value = piece.startsWith('{') ? analysis.tokens[piece.slice(1, -1)] : undefined;
    return value === undefined ? (
      <span key={i}>{piece}</span>
    ) : (
      <b key={i} className="live-value" title={piece}>
        {value}
      </b>
    );
  });
}
