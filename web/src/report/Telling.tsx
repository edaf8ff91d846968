// A spoken account: the report part by part, as large as the screen, led by keys.
import { Button } from 'antd';
import { type KeyboardEvent, useState } from 'react';
import type { Schemas } from '@/shared/api/client';
import { useWholeScreen } from '@/shared/ui/useWholeScreen';
import { Blocks } from './Blocks';

const STEPS: Record<string, number> = { ArrowRight: 1, ArrowDown: 1, PageDown: 1, ' ': 1, ArrowLeft: -1, ArrowUp: -1, PageUp: -1 };

export function Telling({ report, onEnd }: { report: Schemas['Report']; onEnd: () => void }) {
  const parts = report.parts.filter((p) => p.blocks.length > 0 && !p.left_out && !p.title.startsWith('Appendix'));
  const [at, setAt] = useState(0);
  const { sheet, first } = useWholeScreen();
  const part = at === 0 ? undefined : parts[at - 1];
  // at the ends a button only does nothing: one that is disabled loses the focus, and with it the keys
  const go = (to: number) => setAt(Math.max(0, Math.min(parts.length, to)));
  const onKeyDown = (event: KeyboardEvent) => {
    const by = STEPS[event.key];
    if (by === undefined && event.key !== 'Home' && event.key !== 'End') return;
    event.preventDefault();
    if (event.key === 'Home') go(0);
    else if (event.key === 'End') go(parts.length);
    else go(at + (by ?? 0));
  };
  return (
    <dialog ref={sheet} className="telling" aria-label="The report, told aloud" onKeyDown={onKeyDown} onClose={onEnd}>
      <div className="telling-part" aria-live="polite" key={at}>
        {part ? (
          <>
            <h1>{part.title}</h1>
            <Blocks blocks={part.blocks} />
          </>
        ) : (
          <div className="telling-first">
            <h1>{report.title}</h1>
            <p className="paper-byline">{report.byline.join('\n')}</p>
          </div>
        )}
      </div>
      <div className="row telling-keys">
        <Button onClick={() => go(at - 1)} aria-disabled={at === 0}>
          Back
        </Button>
        <span className="quiet">
          {at + 1} of {parts.length + 1}
        </span>
        <Button type="primary" onClick={() => go(at + 1)} aria-disabled={at === parts.length} ref={first}>
          On
        </Button>
        <Button type="text" onClick={() => sheet.current?.close()}>
          End
        </Button>
      </div>
    </dialog>
  );
}
