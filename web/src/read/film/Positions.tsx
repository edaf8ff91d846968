// The positions of what is followed, as they will stand in the table, and the way there.
import { Button } from 'antd';
import { useState } from 'react';
import { useBook } from '@/shared/book/context';
import { told } from '@/shared/ui/told';
import { WriteInto } from './WriteInto';
import { PARTS, partsOf } from './bringing';
import type { Work } from './marks';
import type { MarksView } from './useWork';

interface Props {
  work: Work;
  times: readonly number[] | null;
  view: MarksView | null;
  thing: string;
  onSaid: (words: string) => void;
}

export function Positions({ work, times, view, thing, onSaid }: Props) {
  const { canEdit } = useBook(({ state }) => ({ canEdit: state.can_edit }));
  const [writing, setWriting] = useState(false);
  const track = view?.tracks.find((t) => t.thing === thing);
  if (!view || !track) return null;
  const parts = PARTS.filter((part) => view.tracks.some((t) => partsOf(t).includes(part)));
  const shown = partsOf(track);
  const worth = parts.some((part) => part !== 't');
  return (
    <section className="film-positions" aria-label="Positions">
      {shown.length > 0 && (
        <div className="film-rows" tabIndex={0} role="group" aria-label="Positions so far">
          <table>
            <thead>
              <tr>
                <th>frame</th>
                {shown.map((part) => (
                  <th key={part}>{part === 't' ? 't / s' : part === 'angle' ? 'angle / °' : `${part} / ${view.unit}`}</th>
                ))}
              </tr>
            </thead>
            <tbody className="mono">
              {[...track.rows].reverse().map((row) => (
                <tr key={row.frame}>
                  <td>{row.frame + 1}</td>
                  {shown.map((part) => (
                    <td key={part}>{row[part]}</td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      {track.notes.length > 0 && <p className="quiet">{told(track.notes)}</p>}
      {view.per_pixel === null && <p className="quiet">Set the scale, and these marks are positions.</p>}
      {canEdit && worth && !writing && (
        <Button type="primary" size="small" onClick={() => setWriting(true)}>
          Write them into the table
        </Button>
      )}
      {canEdit && worth && writing && (
        <WriteInto
          work={work}
          times={times}
          parts={parts}
          known={view}
          onDone={(words) => {
            setWriting(false);
            onSaid(words);
          }}
          onLeave={() => setWriting(false)}
        />
      )}
    </section>
  );
}
