// What is fitted, how points count, through the origin or not, over which stretch, and whether the extreme lines are drawn.
import { Button, Checkbox, Segmented, Select } from 'antd';
import { useState } from 'react';
import type { Schemas } from '@/shared/api/client';
import { useDecimalMark } from '@/shared/book/context';
import { placeFit } from '@/shared/book/choices';
import { readShort, writeShort } from '@/shared/book/decimalMark';
import { useSubmit } from '@/shared/book/useSubmit';
import { Labelled } from '@/shared/ui/Labelled';
import { readNumber } from '@/shared/ui/readNumber';
import { told } from '@/shared/ui/told';
import { Exact } from '@/shared/ui/Exact';
import { NumberTrouble } from '@/shared/ui/NumberTrouble';
import { TroubleWords } from '@/shared/ui/TroubleWords';
import { useTyped } from '@/shared/ui/useTyped';

type Weights = NonNullable<Schemas['Fit']['weights']>;

interface Props {
  fit: Schemas['Fit'];
  card: Schemas['FitResult'];
  /** Symbols of what the axes are, and the name that x has in formulas. */
  x: string;
  y: string;
  xName: string;
  /** Where the first point above zero stands, for shapes that have no value at zero. */
  firstAbove: number | null;
  editable: boolean;
  onPlace: (part: Partial<Schemas['Fit']>) => void;
}

const forbids = (s: Schemas['ShapeOffer']) => s.forbidden.length > 0;

export function FitChoices({ fit, card, x, y, xName, firstAbove, editable, onPlace }: Props) {
  const [own, setOwn] = useState(false);
  const offers = card.shapes.map((s) => ({
    value: s.shape,
    title: told(s.forbidden) || told(s.caution),
    disabled: forbids(s),
    label: forbids(s) ? (
      <>
        {s.words}
        <span className="quiet fit-forbidden">{told(s.forbidden)}</span>
      </>
    ) : (
      s.words
    ),
  }));
  const caution = told(card.shapes.find((s) => s.shape === fit.shape)?.caution);
  // what can be chosen before what cannot
  const known = [
    ...offers.filter((o) => !o.disabled),
    { value: 'own', label: 'A formula of your own …', title: '' },
    { value: 'steps', label: 'Step by step, by rates …', title: '' },
    ...offers.filter((o) => o.disabled),
  ];
  const shape = known.some((o) => o.value === fit.shape) ? known : [...known, { value: fit.shape, label: fit.shape, title: '' }];
  return (
    <>
      <div className="row fit-choices">
        <Select
          aria-label="What is fitted"
          value={own ? 'own' : fit.shape}
          disabled={!editable}
          options={shape}
          popupMatchSelectWidth={false}
          listHeight={520}
          onChange={(next: string) => {
            setOwn(next === 'own');
            if (next !== 'own') onPlace({ shape: next, formula: '', parameters: [] });
          }}
        />
        <span className="quiet" id="weights-label">
          Points count
        </span>
        <Segmented<Weights>
          aria-labelledby="weights-label"
          disabled={!editable}
          value={fit.weights}
          options={[
            { value: 'both_bars', label: 'by both bars' },
            { value: 'y_bars', label: 'by the bars in y' },
            { value: 'none', label: 'all the same' },
          ]}
          onChange={(weights) => onPlace({ weights })}
        />
        {fit.shape === 'line' && (
          <>
            <Checkbox checked={fit.through_origin} disabled={!editable} onChange={(e) => onPlace({ through_origin: e.target.checked })}>
              through the origin
            </Checkbox>
            <Checkbox checked={fit.show_extremes} disabled={!editable} onChange={(e) => onPlace({ show_extremes: e.target.checked })}>
              draw steepest and shallowest
            </Checkbox>
          </>
        )}
        <Checkbox checked={fit.show_equation} disabled={!editable} onChange={(e) => onPlace({ show_equation: e.target.checked })}>
          equation on the graph
        </Checkbox>
        <Checkbox checked={!fit.hidden} disabled={!editable} onChange={(e) => onPlace({ hidden: !e.target.checked })}>
          draw it
        </Checkbox>
      </div>
      {editable && firstAbove !== null && card.shapes.some((s) => s.forbidden.some((f) => f.code === 'outside_domain')) && (
        <div className="row fit-stretch">
          <span className="quiet">Some shapes have no value where {x} is not above zero.</span>
          <Button size="small" onClick={() => onPlace({ low: firstAbove })}>
            Leave that out of this fit
          </Button>
        </div>
      )}
      {caution && (
        <p className="notice fit-caution">
          {caution[0]?.toUpperCase()}
          {caution.slice(1)}.
        </p>
      )}
      {(own || fit.shape === 'own') && editable && <OwnFormula fit={fit} x={x} y={y} xName={xName} onPlace={onPlace} />}
      <StretchFields fit={fit} editable={editable} onPlace={onPlace} />
    </>
  );
}

function OwnFormula({ fit, x, y, xName, onPlace }: Pick<Props, 'fit' | 'x' | 'y' | 'xName' | 'onPlace'>) {
  const formula = useTyped(fit.formula);
  const names = useTyped(fit.parameters.join(' '));
  return (
    <form
      className="row fit-choices"
      onSubmit={(e) => {
        e.preventDefault();
        formula.send();
        names.send();
        onPlace({ shape: 'own', formula: formula.now.trim(), parameters: names.now.split(/[\s,;]+/).filter(Boolean) });
      }}
    >
      <Labelled words={`${y} =`}>
        <Exact
          className="field-wide"
          value={formula.now}
          maxLength={400}
          placeholder={`a exp(-${xName}/b) + c`}
          onChange={(e) => formula.type(e.target.value)}
        />
      </Labelled>
      {xName !== x && (
        <span className="quiet">
          {xName} is {x}
        </span>
      )}
      <Labelled words="with parameters">
        <Exact className="field-mid" value={names.now} maxLength={120} placeholder="a b c" onChange={(e) => names.type(e.target.value)} />
      </Labelled>
      <Button htmlType="submit" disabled={!formula.now.trim() || !names.now.trim()}>
        Fit it
      </Button>
    </form>
  );
}

function StretchFields({ fit, editable, onPlace }: { fit: Schemas['Fit']; editable: boolean; onPlace: Props['onPlace'] }) {
  const mark = useDecimalMark();
  const { submit, busy, refusal } = useSubmit();
  const [draft, setDraft] = useState<{ low?: string; high?: string }>({});
  const [low, high] = [draft.low ?? writeShort(fit.low, 4, mark), draft.high ?? writeShort(fit.high, 4, mark)];
  const wrong = [low, high].some((t) => Number.isNaN(readNumber(t) ?? 0));
  const whole = (fit.low ?? null) === null && (fit.high ?? null) === null;
  return (
    <form
      className="row fit-stretch"
      onSubmit={(e) => {
        e.preventDefault();
        const ends = { low: readShort(low, fit.low, 4, mark), high: readShort(high, fit.high, 4, mark) };
        if (!wrong) submit(placeFit(fit, ends), () => setDraft({}));
      }}
    >
      <Labelled words={whole ? 'All points. Or only from x =' : 'Only from x ='}>
        <Exact
          size="small"
          className="field-short"
          disabled={!editable}
          status={wrong ? 'error' : ''}
          value={low}
          placeholder="start"
          onChange={(e) => setDraft({ ...draft, low: e.target.value })}
        />
      </Labelled>
      <Labelled words="to">
        <Exact
          size="small"
          className="field-short"
          disabled={!editable}
          status={wrong ? 'error' : ''}
          value={high}
          placeholder="end"
          onChange={(e) => setDraft({ ...draft, high: e.target.value })}
        />
      </Labelled>
      {editable && (
        <Button size="small" htmlType="submit" loading={busy} disabled={wrong}>
          Fit this stretch
        </Button>
      )}
      {!whole && editable && (
        <Button size="small" type="text" onClick={() => onPlace({ low: null, high: null })}>
          all points
        </Button>
      )}
      <span className="quiet">or drag across the graph</span>
      <NumberTrouble typed={[low, high]} />
      <TroubleWords beside>{refusal}</TroubleWords>
    </form>
  );
}
