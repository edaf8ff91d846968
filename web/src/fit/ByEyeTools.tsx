// Drawing by eye: best, steepest and shallowest, dragged on the graph or typed; what the line touches is said as it moves.
import { Button, Segmented } from 'antd';
import { useState } from 'react';
import { useDecimalMark, useSlopeWord } from '@/shared/book/context';
import { readShort, writeShort } from '@/shared/book/decimalMark';
import type { Schemas } from '@/shared/api/client';
import { told } from '@/shared/ui/told';
import type { ByEye, EyeKind } from './useByEye';
import { Exact } from '@/shared/ui/Exact';
import { NumberTrouble } from '@/shared/ui/NumberTrouble';

const KINDS: { value: EyeKind; label: string }[] = [
  { value: 'by_eye', label: 'best' },
  { value: 'steepest_by_eye', label: 'steepest' },
  { value: 'shallowest_by_eye', label: 'shallowest' },
];

export function ByEyeTools({ fit, eye, onPlace }: { fit: Schemas['Fit']; eye: ByEye; onPlace: (part: Partial<Schemas['Fit']>) => void }) {
  const word = useSlopeWord();
  if (!eye.drawing)
    return (
      <p className="eye-tools">
        <Button size="small" onClick={() => eye.draw('by_eye')}>
          Draw a line by eye
        </Button>
      </p>
    );
  const kind = eye.drawing;
  return (
    <section className="eye-tools" aria-label="The line by eye">
      <div className="row">
        <Segmented<EyeKind> size="small" aria-label="Which line is drawn" value={kind} options={KINDS} onChange={eye.draw} />
        <Typed key={`${kind} ${eye.line?.gradient} ${eye.line?.intercept}`} eye={eye} />
        {fit[kind] && (
          <Button size="small" type="text" onClick={() => onPlace({ [kind]: null })}>
            Take it away
          </Button>
        )}
        <Button size="small" type="text" onClick={() => eye.draw(null)}>
          Done
        </Button>
      </div>
      <p role="status">
        {eye.preview ? (
          <>
            {word} <b>{eye.preview.gradient}</b>, intercept <b>{eye.preview.intercept}</b>. {told(eye.preview.words)}
          </>
        ) : (
          'Drag the two handles, or move them with the arrow keys.'
        )}
      </p>
    </section>
  );
}

function Typed({ eye }: { eye: ByEye }) {
  const word = useSlopeWord();
  const mark = useDecimalMark();
  const [gradient, setGradient] = useState(writeShort(eye.line?.gradient, 4, mark));
  const [intercept, setIntercept] = useState(writeShort(eye.line?.intercept, 4, mark));
  const line = { gradient: readShort(gradient, eye.line?.gradient, 4, mark) ?? NaN, intercept: readShort(intercept, eye.line?.intercept, 4, mark) ?? NaN };
  const wrong = Number.isNaN(line.gradient) || Number.isNaN(line.intercept);
  return (
    <form
      className="row"
      onSubmit={(e) => {
        e.preventDefault();
        if (!wrong) eye.move(line, true);
      }}
    >
      <Exact
        size="small"
        className="field-short"
        aria-label={`${word === 'gradient' ? 'Gradient' : 'Slope'} of the line by eye, in the units of the axes`}
        status={wrong ? 'error' : ''}
        value={gradient}
        onChange={(e) => setGradient(e.target.value)}
      />
      <Exact
        size="small"
        className="field-short"
        aria-label="Intercept of the line by eye"
        status={wrong ? 'error' : ''}
        value={intercept}
        onChange={(e) => setIntercept(e.target.value)}
      />
      <Button size="small" htmlType="submit" disabled={wrong}>
        Put it there
      </Button>
      <NumberTrouble typed={[gradient, intercept]} />
    </form>
  );
}
