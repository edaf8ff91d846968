// One quantity that a model carries along: how fast it changes, in which stages, and where it begins.
import { Button } from 'antd';
import type { Schemas } from '@/shared/api/client';
import { newId } from '@/shared/book/newId';
import { Amount, KeptText } from './Fields';
import { changeStage, changeState, isAbout, removePart, removeStage, type StateQuantity, type StepModel } from './stepModel';

export interface RowProps {
  model: StepModel;
  editable: boolean;
  /** What is wrong, if it is about this row or something in it. */
  trouble: Schemas['Trouble'] | null;
  onModel: (model: StepModel) => void;
  onSuppose: (item: string, symbol: string, value: string) => void;
}

export function StateRow({ state, x, begins, ...row }: RowProps & { state: StateQuantity; x: string; begins: string }) {
  const { model, editable, trouble, onModel, onSuppose } = row;
  const change = (part: Partial<StateQuantity>) => onModel(changeState(model, state.id, part));
  const wrong = (id: string) => isAbout(trouble, id);
  const name = `the rate of ${state.symbol}`;
  const staged = state.stages.length > 0;
  return (
    <li className="step-row" aria-label={state.symbol}>
      <div className="row">
        <span className="step-rate">
          <span aria-hidden="true">d</span>
          <KeptText
            label={`Symbol of ${state.symbol}`}
            value={state.symbol}
            width="field-short"
            needed
            maxLength={30}
            disabled={!editable}
            onKeep={(symbol) => change({ symbol })}
          />
          <span aria-hidden="true">/d{x} =</span>
        </span>
        {!staged && (
          <KeptText
            label={`How fast ${state.symbol} changes with ${x}`}
            value={state.rate}
            width="field-wide"
            disabled={!editable}
            wrong={wrong(state.id)}
            placeholder="its rate, as g - k v"
            onKeep={(rate) => change({ rate })}
          />
        )}
        <span className="quiet">begins{begins && ` at ${begins}`} with</span>
        <Amount
          label={`Start of ${state.symbol}`}
          symbol={state.symbol}
          written={state.start}
          unit={state.unit}
          fitted={state.fitted}
          find="find its start"
          disabled={!editable}
          wrong={wrong(`${state.id}:start`)}
          onSuppose={(value) => onSuppose(state.id, `${state.symbol} at the start`, value)}
          onChange={({ written, ...part }) => change(written === undefined ? part : { ...part, start: written })}
          onTakeOut={() => onModel(removePart(model, state.id))}
        />
        {editable && (
          <Button size="small" type="text" onClick={() => change({ stages: [...state.stages, { id: newId('w'), when: '', rate: staged ? '' : state.rate }] })}>
            + a stage
          </Button>
        )}
      </div>
      {state.stages.map((stage, i) => (
        <div className="row step-stage" key={stage.id}>
          <KeptText
            label={`Rate of ${state.symbol} in stage ${i + 1}`}
            value={stage.rate}
            width="field-wide"
            disabled={!editable}
            wrong={wrong(stage.id)}
            onKeep={(rate) => onModel(changeStage(model, state, stage.id, { rate }))}
          />
          <span className="quiet">while</span>
          <KeptText
            label={`Stage ${i + 1} of ${name} holds while`}
            value={stage.when}
            width="field-mid"
            disabled={!editable}
            wrong={wrong(stage.id)}
            placeholder="as v > 0"
            onKeep={(when) => onModel(changeStage(model, state, stage.id, { when }))}
          />
          {editable && (
            <Button
              size="small"
              type="text"
              danger
              aria-label={`Remove stage ${i + 1} of ${name}`}
              onClick={() => onModel(removeStage(model, state, stage.id))}
            >
              remove
            </Button>
          )}
        </div>
      ))}
      {staged && (
        <div className="row step-stage">
          <KeptText
            label={`Rate of ${state.symbol} otherwise`}
            value={state.rate}
            width="field-wide"
            disabled={!editable}
            wrong={wrong(state.id)}
            onKeep={(rate) => change({ rate })}
          />
          <span className="quiet">otherwise</span>
        </div>
      )}
      {([state.id, `${state.id}:start`].some(wrong) || state.stages.some((s) => wrong(s.id))) && <p className="step-trouble">{trouble?.message}</p>}
    </li>
  );
}
