// A paragraph of the bench's own. Names in braces are shown with their live value.
import { Input } from 'antd';
import type { ReactNode } from 'react';
import { useBook } from '@/shared/book/context';
import { TheirText } from './TheirText';
import { useOwnText } from './useOwnText';
import './own-text.css';

export function OwnText({ section, label, hint, rows = 3 }: { section: 'expectation' | 'choice'; label: string; hint: string; rows?: number }) {
  const { state } = useBook(({ state }) => ({ state }));
  const { text, dirty, change, leave } = useOwnText(section);
  if (!state.can_edit) return <p className="own-text-read">{text ? <Live text={text} /> : <span className="quiet">Nothing is written here yet.</span>}</p>;
  return (
    <div className="own-text">
      <Input.TextArea
        value={text}
        aria-label={label}
        placeholder={hint}
        autoSize={{ minRows: rows }}
        data-dirty={dirty ? 'yes' : 'no'}
        onChange={(e) => change(e.target.value)}
        onBlur={leave}
      />
      <TheirText section={section} />
      {/\{[^{}\s]+\}/.test(text) && (
        <p className="own-text-read">
          <Live text={text} />
        </p>
      )}
    </div>
  );
}

/** Text with `{E}` replaced by what the analysis gives now. */
function Live({ text }: { text: string }): ReactNode {
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
