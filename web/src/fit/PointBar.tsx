// A chosen point: its readings, and what the fit would be without it.
import { Button } from 'antd';
import type { Schemas } from '@/shared/api/client';
import type { WhatIfState } from './useWhatIf';

export function PointBar({ point, whatIf, onReadings, onClose }: { point: Schemas['FigurePoint']; whatIf: WhatIfState; onReadings: () => void; onClose: () => void }) {
  const without = whatIf.key === point.key;
  return (
    <section className="stretch-bar" aria-label="The chosen point">
      <p>{point.label}</p>
      <div className="row">
        <Button size="small" onClick={onReadings}>
          Its readings
        </Button>
        <Button size="small" aria-pressed={without} type={without ? 'primary' : 'default'} onClick={() => whatIf.leaveOut(without ? null : point.key)}>
          {without ? 'Put it back' : 'Without it for a moment'}
        </Button>
        <Button size="small" type="text" onClick={onClose}>
          Done
        </Button>
        <span className="quiet">or drag a point up and down: letting go puts it back</span>
      </div>
    </section>
  );
}
