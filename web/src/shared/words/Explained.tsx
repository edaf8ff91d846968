// A text in which words of the trade open their own short explanation.
import { usePopover } from '@/shared/ui/usePopover';
import { WordPicture } from './WordPicture';
import { type TradeWord, TRADE_WORDS, explain } from './words';
import './words.css';
import { Typeset } from '@/shared/ui/Typeset';

const EDGE = 8;

export function Explained({ text }: { text: string }) {
  return (
    <>
      {explain(text).map((piece, i) =>
        piece.word ? (
          <Word key={i} word={piece.word}>
            {piece.text}
          </Word>
        ) : (
          <Typeset key={i} text={piece.text} />
        ),
      )}
    </>
  );
}

/** One word of the trade that stands by itself, by its title. */
export function Term({ of, children }: { of: string; children: React.ReactNode }) {
  const word = TRADE_WORDS.find((w) => w.title === of);
  return word ? <Word word={word}>{children}</Word> : children;
}

/** A note that would stand beyond the right edge of the page is moved as far to the left. */
function keepInSight(note: HTMLSpanElement | null) {
  const beyond = (note?.getBoundingClientRect().right ?? 0) - (document.documentElement.clientWidth - EDGE);
  if (note && beyond > 0) note.style.left = `${-beyond}px`;
}

function Word({ word, children }: { word: TradeWord; children: React.ReactNode }) {
  const { open, opener, toggle, around } = usePopover();
  return (
    <span className="trade-word" {...around}>
      <button ref={opener} type="button" aria-expanded={open} title={`What is ${word.title}?`} onClick={toggle}>
        {children}
      </button>
      {open && (
        <span ref={keepInSight} className="trade-note" role="note" aria-label={word.title}>
          <WordPicture of={word.picture} />
          <span>
            <b>{word.title}</b> {word.says}
          </span>
        </span>
      )}
    </span>
  );
}
