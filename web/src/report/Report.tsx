// Report: one document, the same on its sheet here as in every file that is taken out of it.
import { useQuery } from '@tanstack/react-query';
import { Button } from 'antd';
import { type ClipboardEvent, type DragEvent, useState } from 'react';
import { client, get } from '@/shared/api/client';
import { useBook } from '@/shared/book/context';
import { TroubleWords } from '@/shared/ui/TroubleWords';
import { HandIn } from './HandIn';
import { NewParts } from './NewParts';
import { Telling } from './Telling';
import { useNewPictures } from './useNewPictures';
import { ReportPart } from './ReportPart';
import './report.css';

export function Report() {
  const { state } = useBook(({ state }) => ({ state }));
  const found = useQuery({
    queryKey: ['report', state.id, state.revision],
    queryFn: () => get(client.GET('/api/books/{book_id}/report', { params: { path: { book_id: state.id } } })),
    placeholderData: (before) => before,
    retry: false,
  });
  const report = found.data;
  const [telling, setTelling] = useState(false);
  const pictures = useNewPictures();
  const onPaste = (event: ClipboardEvent) => {
    if (!event.clipboardData.files.length) return;
    event.preventDefault();
    pictures.bring([...event.clipboardData.files]);
  };
  const onDrop = (event: DragEvent) => {
    if (!event.dataTransfer.files.length) return;
    event.preventDefault();
    pictures.bring([...event.dataTransfer.files]);
  };
  return (
    <div className="report-stage">
      <HandIn missing={report?.missing ?? []}>
        <Button type="text" disabled={!report} onClick={() => setTelling(true)}>
          Tell it aloud
        </Button>
      </HandIn>
      {telling && report && <Telling report={report} onEnd={() => setTelling(false)} />}
      <TroubleWords>{found.error?.message}</TroubleWords>
      {!report && !found.error && <p className="quiet">The report is being put together …</p>}
      {report && (
        <article className="paper" aria-label="Report" onPaste={onPaste} onDrop={onDrop} onDragOver={(e) => e.preventDefault()}>
          <h1>{report.title}</h1>
          <p className="quiet paper-byline">{report.byline.join('\n')}</p>
          {report.parts.map((part) => (
            <ReportPart key={part.key} part={part} report={report} />
          ))}
          {state.can_edit && <NewParts pictures={pictures} />}
        </article>
      )}
    </div>
  );
}
