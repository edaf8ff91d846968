// A step-by-step model under its graph: what changes and how fast, the numbers in it, and how it is stepped.
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { Button, Segmented } from 'antd';
import { type Schemas, client, get } from '@/shared/api/client';
import { useBook, useDecimalMark } from '@/shared/book/context';
import { withMark } from '@/shared/book/decimalMark';
import { newId } from '@/shared/book/newId';
import { Labelled } from '@/shared/ui/Labelled';
import { Maths } from '@/shared/ui/Maths';
import { told } from '@/shared/ui/told';
import { KeptText } from './Fields';
import { NumberRow } from './NumberRow';
import { StateRow } from './StateRow';
import { freeSymbol, isAbout, withIds, type StepModel } from './stepModel';
import './steps.css';
import { withUnit } from '@/shared/ui/withUnit';

interface Props {
  fit: Schemas['Fit'];
  card: Schemas['FitResult'];
  /** What stands along x. */
  x: string;
  unit: string;
  editable: boolean;
  onModel: (model: StepModel) => void;
  onSuppose: (item: string, symbol: string, value: string) => void;
}

export function StepModelSheet({ fit, card, x, unit, editable, onModel, onSuppose }: Props) {
  const model = fit.steps;
  const mark = useDecimalMark();
  const trouble = card.trouble;
  if (model.states.length === 0) return editable ? <Beginnings fit={fit.id} onModel={onModel} /> : null;
  const begins = `${x} = ${withUnit(withMark(model.begins, mark), unit)}`;
  const row = { model, editable, trouble, onModel, onSuppose };
  const of = (item: string) => isAbout(trouble, item);
  const add = () =>
    onModel({
      ...model,
      states: [...model.states, { id: newId('q'), symbol: freeSymbol(model, 'vuwzsp'), unit: '', start: '0', rate: '', stages: [], fitted: false }],
    });
  const addNumber = () =>
    onModel({ ...model, numbers: [...model.numbers, { id: newId('n'), symbol: freeSymbol(model, 'kabcdf'), unit: '', value: '1', fitted: false }] });
  return (
    <section className="card step-sheet" aria-label="The step-by-step model">
      <h2>What changes, and how fast</h2>
      <ul>
        {model.states.map((state) => (
          <StateRow key={state.id} state={state} x={x} begins={begins} {...row} />
        ))}
      </ul>
      {editable && (
        <Button size="small" type="text" onClick={add}>
          + something else that changes
        </Button>
      )}
      <h2>Numbers in it</h2>
      {model.numbers.length === 0 && <p className="quiet">None of its own. Constants of the lab book go by their symbols.</p>}
      <ul>
        {model.numbers.map((number) => (
          <NumberRow key={number.id} number={number} {...row} />
        ))}
      </ul>
      {editable && (
        <Button size="small" type="text" onClick={addNumber}>
          + a number
        </Button>
      )}
      <h2>Its steps</h2>
      <div className="row step-choices">
        <Segmented<StepModel['way']>
          aria-label="How each step is taken"
          disabled={!editable}
          value={model.way}
          options={[
            { value: 'simple', label: 'simple steps' },
            { value: 'half', label: 'rate half-way' },
            { value: 'fourth', label: 'fourth order' },
          ]}
          onChange={(way) => onModel({ ...model, way })}
        />
        <Labelled words="step">
          <KeptText
            label="Length of a step"
            value={model.step}
            width="field-short"
            placeholder={card.steps?.step.split(' ')[0] ?? 'chosen'}
            maxLength={60}
            disabled={!editable}
            wrong={of('step')}
            onKeep={(step) => onModel({ ...model, step })}
          />
        </Labelled>
        <span className="quiet">{unit}</span>
        <Labelled words={`begins at ${x} =`}>
          <KeptText
            label={`Where the model begins, ${x}`}
            value={model.begins}
            width="field-short"
            needed
            maxLength={60}
            disabled={!editable}
            onKeep={(at) => onModel({ ...model, begins: at })}
          />
        </Labelled>
        <span className="quiet">{unit}</span>
        <Labelled words="drawn is">
          <KeptText
            label="What of the model is drawn"
            value={model.drawn}
            width="field-mid"
            placeholder="as y says"
            disabled={!editable}
            wrong={of('drawn')}
            onKeep={(drawn) => onModel({ ...model, drawn })}
          />
        </Labelled>
      </div>
      {(of('step') || of('drawn')) && <p className="step-trouble">{trouble?.message}</p>}
      {card.steps && <p className="quiet">{told([...card.steps.chosen, ...card.steps.check])}</p>}
    </section>
  );
}

/** Usual equations to begin with; their numbers are of about the right size for these points. */
function Beginnings({ fit, onModel }: { fit: string; onModel: Props['onModel'] }) {
  const { state, run } = useBook(({ state, run }) => ({ state, run }));
  const offers = useQuery({
    queryKey: ['step-models', state.id, state.revision, run, fit],
    queryFn: () => get(client.GET('/api/books/{book_id}/step-models', { params: { path: { book_id: state.id }, query: { fit, run } } })),
    retry: false,
    // what somebody is about to press stays where it is while something else changes
    placeholderData: keepPreviousData,
  });
  return (
    <section className="card step-sheet" aria-label="Begin a step-by-step model">
      <h2>What is going on? Begin with</h2>
      {offers.error && <p className="notice">{offers.error.message}</p>}
      <div className="step-offers">
        {offers.data?.map((offer) => (
          <button key={offer.words.code} type="button" onClick={() => onModel(withIds(offer.model, () => newId('q')))}>
            <span>{offer.words.text}</span>
            <Maths tex={offer.tex} />
          </button>
        ))}
      </div>
      <p className="quiet">Every part of it can be changed afterwards. Its numbers are only of about the right size.</p>
    </section>
  );
}
