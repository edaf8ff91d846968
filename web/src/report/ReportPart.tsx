// A part of the report on its sheet, and what can be done with it: moved, left out, and what is the bench's own named and taken away.
import { Button, Input } from 'antd';
import type { Schemas } from '@/shared/api/client';
import { useBook, useBookStore } from '@/shared/book/context';
import { useField } from '@/shared/ui/useTyped';
import { Blocks, type Part } from './Blocks';
import { OwnSection } from './OwnSection';
import { moved } from './order';

interface Props {
  part: Part;
  report: Schemas['Report'];
}

export function ReportPart({ part, report }: Props) {
  const { state } = useBook(({ state }) => ({ state }));
  const store = useBookStore();
  const picture = state.document.report.pictures.find((p) => `picture:${p.id}` === part.key);
  if (part.left_out)
    return (
      <p className="part-left-out row">
        <span className="quiet">Left out: {part.title}</span>
        {state.can_edit && (
          <Button size="small" type="text" onClick={() => store.edit({ type: 'leave_part_out', part: part.key, title: part.title, out: false })}>
            Put it in again
          </Button>
        )}
      </p>
    );
  return (
    <section className="report-part" id={part.key} aria-label={part.title} tabIndex={-1}>
      <h2>{part.title}</h2>
      {state.can_edit && <PartTools part={part} report={report} />}
      {part.section ? <OwnSection part={part} section={part.section} report={report} /> : <Blocks blocks={part.blocks} />}
      {picture && state.can_edit && <PictureWords key={picture.id} picture={picture} />}
    </section>
  );
}

function PartTools({ part, report }: Props) {
  const store = useBookStore();
  const keys = report.parts.map((p) => p.key);
  const at = keys.indexOf(part.key);
  const move = (by: -1 | 1) => store.edit({ type: 'arrange_report', order: moved(keys, part.key, by) });
  const own = part.section?.own ?? false;
  const remove = () =>
    own
      ? store.edit({ type: 'remove_section', section: part.section?.section ?? '' }, `Removed ${part.title}.`)
      : store.edit({ type: 'remove_report_picture', picture: part.key.replace('picture:', '') }, `Removed ${part.title}.`);
  return (
    <div className="part-tools">
      {own && part.section && <SectionName section={part.section.section} title={part.title} />}
      <Button size="small" type="text" disabled={at === 0} onClick={() => move(-1)} aria-label={`Move ${part.title} up`}>
        Up
      </Button>
      <Button size="small" type="text" disabled={at === keys.length - 1} onClick={() => move(1)} aria-label={`Move ${part.title} down`}>
        Down
      </Button>
      {own || part.key.startsWith('picture:') ? (
        <Button size="small" type="text" onClick={remove} aria-label={`Remove ${part.title}`}>
          Remove
        </Button>
      ) : (
        <Button
          size="small"
          type="text"
          onClick={() => store.edit({ type: 'leave_part_out', part: part.key, title: part.title, out: true }, `Left out ${part.title}.`)}
          aria-label={`Leave ${part.title} out`}
        >
          Leave out
        </Button>
      )}
    </div>
  );
}

function SectionName({ section, title }: { section: string; title: string }) {
  const store = useBookStore();
  const field = useField(title, (next) => store.edit({ type: 'name_section', section, title: next }), { needed: true, late: true });
  return (
    <Input size="small" className="field-long" aria-label={`What the section ${title} is called`} maxLength={120} {...field} onPressEnter={field.onBlur} />
  );
}

function PictureWords({ picture }: { picture: Schemas['Picture'] }) {
  const store = useBookStore();
  const caption = useField(picture.caption, (caption) => store.edit({ type: 'describe_report_picture', picture: picture.id, caption }), { late: true });
  const alt = useField(picture.alt, (alt) => store.edit({ type: 'describe_report_picture', picture: picture.id, alt }), { late: true });
  return (
    <div className="picture-words">
      <Input aria-label="Caption of the picture" placeholder="Caption" maxLength={200} {...caption} />
      <Input
        aria-label="What is to be seen on the picture, for whoever does not see it"
        placeholder="What is to be seen on it, for whoever does not see it"
        maxLength={300}
        {...alt}
      />
    </div>
  );
}
