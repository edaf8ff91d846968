// A number of a model's own: supposed by a slider, written, or found from the points.
import { Button, Checkbox } from 'antd';
import { KeptText, Slider } from './Fields';
import type { RowProps } from './StateRow';
import { changeNumber, isAbout, removePart, type ModelNumber } from './stepModel';

export function NumberRow({ number, model, editable, trouble, onModel, onSuppose }: RowProps & { number: ModelNumber }) {
  const change = (part: Partial<ModelNumber>) => onModel(changeNumber(model, number.id, part));
  const wrong = isAbout(trouble, number.id);
  return (
    <li className="step-row" aria-label={number.symbol}>
      <div className="row">
        <KeptText
          label={`Symbol of the number ${number.symbol}`}
          value={number.symbol}
          width="field-short"
          needed
          maxLength={30}
          disabled={!editable}
          onKeep={(symbol) => change({ symbol })}
        />
        <span aria-hidden="true">=</span>
        <KeptText
          label={`Value of ${number.symbol}`}
          value={number.value}
          width="field-short"
          needed
          maxLength={60}
          disabled={!editable}
          wrong={wrong}
          onKeep={(value) => change({ value })}
        />
        <KeptText
          label={`Unit of ${number.symbol}`}
          value={number.unit}
          width="field-short"
          placeholder="unit"
          maxLength={80}
          disabled={!editable}
          onKeep={(unit) => change({ unit })}
        />
        <Slider
          label={`Suppose another ${number.symbol}`}
          written={number.value}
          disabled={!editable}
          onSuppose={(value) => onSuppose(number.id, number.symbol, value)}
          onKeep={(value) => change({ value, fitted: false })}
        />
        {editable && (
          <>
            <Checkbox checked={number.fitted} onChange={(e) => change({ fitted: e.target.checked })}>
              find it from the points
            </Checkbox>
            <Button size="small" type="text" danger aria-label={`Take ${number.symbol} out of the model`} onClick={() => onModel(removePart(model, number.id))}>
              take out
            </Button>
          </>
        )}
      </div>
      {wrong && <p className="step-trouble">{trouble?.message}</p>}
    </li>
  );
}
