// A section in the bench's own words: written on the sheet itself, and shown below as it will be printed where it holds more than words.
import { Button } from 'antd';
import type { Schemas } from '@/shared/api/client';
import { useBook, useBookStore } from '@/shared/book/context';
import { TheirText } from '@/shared/ui/TheirText';
import { useOwnText } from '@/shared/ui/useOwnText';
import { Typeset } from '@/shared/ui/Typeset';
import { Blocks, type Part } from './Blocks';
import { ValueField } from './ValueField';
import { choicesOf } from './valueNames';

export function OwnSection({ part, section, report }: { part: Part; section: Schemas['OwnSection']; report: Schemas['Report'] }) {
  const { state } = useBook(({ state }) => ({ state }));
  const store = useBookStore();
  const own = useOwnText(section.section);
  if (!state.can_edit) return part.blocks.length ? <Blocks blocks={part.blocks} /> : <p className="quiet">Nothing is written here yet.</p>;
  const typed = (number: string, name: string, keep: boolean) => {
    const text = own.text.replace(new RegExp(`(?<![\\w.,])${number.replace(/[.]/g, '\\.')}(?![\\w])`), `{${name}}`);
    if (keep) store.edit({ type: 'keep_typed', section: section.section, typed: number, name });
    else store.edit({ type: 'write_text', section: section.section, text, was: own.text });
  };
  const value = (name: string) => report.values.find((v) => v.name === name);
  const more = part.blocks.some((b) => b.kind !== 'paragraph' || b.words.some((w) => w.kind !== 'words' || w.style !== 'plain'));
  return (
    <>
      <ValueField own={own} label={part.title} hint={section.hint} rows={section.section === 'discussion' ? 5 : 3} choices={choicesOf(report)} />
      <TheirText section={section.section} />
      {section.fewest_words > 0 && (
        <p className="quiet">
          {section.words} of {section.fewest_words} words
        </p>
      )}
      {report.stale
        .filter((s) => s.section === section.section)
        .map((s) => (
          <p className="notice row" key={s.typed}>
            <span>
              {s.typed} was{' '}
              <b>
                <Typeset text={value(s.name)?.words ?? s.name} />
              </b>{' '}
              when it was written; now that is {s.now}.
            </span>
            <Button size="small" onClick={() => typed(s.typed, s.name, false)} disabled={own.dirty || !value(s.name)}>
              Write it as it is now
            </Button>
          </p>
        ))}
      {report.offered
        .filter((o) => o.section === section.section)
        .map((o) => (
          <p className="offer row" key={o.typed}>
            <span>
              {o.typed} is{' '}
              <b>
                <Typeset text={value(o.name)?.words ?? o.name} />
              </b>
              . Shall it follow the readings?
            </span>
            <Button size="small" onClick={() => typed(o.typed, o.name, false)} disabled={own.dirty}>
              Yes, keep it live
            </Button>
            <Button size="small" type="text" onClick={() => typed(o.typed, o.name, true)} disabled={own.dirty}>
              No, as typed
            </Button>
          </p>
        ))}
      {more && (
        <div className="own-text-read" aria-label={`${part.title}, as it is printed`} role="group">
          <Blocks blocks={part.blocks} />
        </div>
      )}
    </>
  );
}
