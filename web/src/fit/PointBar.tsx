// A chosen point: its readings, and what the fit would be without it.
import { Button } from 'antd';
import type { Schemas } from '@/shared/api/client';
import { NoteForm } from '@/shared/ui/NoteForm';
import type { WhatIfState } from './useWhatIf';

export function PointBar({
  point,
  whatIf,
  onReadings,
  onPin,
  onClose,
}: {
  point: Schemas['FigurePoint'];
  whatIf: WhatIfState | null;
  onReadings: () => void;
  onPin: ((text: string) => void) | null;
  onClose: () => void;
}) {
  const without = whatIf?.key === point.key;
  return (
    <section className="stretch-bar" aria-label="The chosen point">
      <p>{point.label}</p>
      <div className="row">
        <Button size="small" onClick={onReadings}>
          Its readings
        </Button>
        {whatIf && (
          <Button size="small" aria-pressed={without} type={without ? 'primary' : 'default'} onClick={() => whatIf.leaveOut(without ? null : point.key)}>
            {without ? 'Put it back' : 'Without it for a moment'}
          </Button>
        )}
        {onPin && <NoteForm about={point.key} onPin={onPin} />}
        <Button size="small" type="text" onClick={onClose}>
          Done
        </Button>
        {whatIf && <span className="quiet">or move a point up and down, by dragging or with ↑ and ↓: letting go puts it back</span>}
      </div>
    </section>
  );
}
