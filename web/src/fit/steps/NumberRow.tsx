// A number of a model's own: supposed by a slider, written, or found from the points.
import { Amount, KeptText } from './Fields';
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
        <Amount
          label={`Value of ${number.symbol}`}
          symbol={number.symbol}
          written={number.value}
          unit={number.unit}
          fitted={number.fitted}
          find="find it from the points"
          disabled={!editable}
          wrong={wrong}
          onSuppose={(value) => onSuppose(number.id, number.symbol, value)}
          onChange={({ written, ...part }) => change(written === undefined ? part : { ...part, value: written })}
          onTakeOut={() => onModel(removePart(model, number.id))}
        />
      </div>
      {wrong && <p className="step-trouble">{trouble?.message}</p>}
    </li>
  );
}
