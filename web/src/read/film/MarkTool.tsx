// Following things: which one is pointed at, every how manieth frame, how often, and whether by its angle about a fixed place.
import { Button, Checkbox, Input, InputNumber, Segmented } from 'antd';
import { newId } from '@/shared/book/newId';
import { Entry } from '@/shared/ui/Entry';
import { Labelled } from '@/shared/ui/Labelled';
import { colourOf } from './overlay';
import { type Work, markAt, withoutMark } from './marks';

const MOST_THINGS = 12;

interface Props {
  work: Work;
  change: (next: (before: Work) => Work) => void;
  thing: string;
  onThing: (thing: string) => void;
  turn: number;
  onTurn: (turn: number) => void;
  frame: number;
  /** The fixed place is pointed at next. */
  pivoting: boolean;
  onPivoting: (pivoting: boolean) => void;
  /** How well one points. */
  said: string;
  goesOn: boolean;
  onGoesOn: (goesOn: boolean) => void;
}

export function MarkTool({ work, change, thing, onThing, turn, onTurn, frame, pivoting, onPivoting, said, goesOn, onGoesOn }: Props) {
  const here = work.things.find((t) => t.id === thing);
  const isMarked = markAt(work, thing, frame, turn) !== undefined;
  const part = (of: Partial<Work['things'][number]>) => change((w) => ({ ...w, things: w.things.map((t) => (t.id === thing ? { ...t, ...of } : t)) }));
  const add = () => {
    const next = { id: newId('b'), name: String.fromCharCode(65 + work.things.length), pivot: null };
    change((w) => ({ ...w, things: [...w.things, next] }));
    onThing(next.id);
  };
  return (
    <>
      <p>
        {pivoting
          ? 'Point at the fixed place.'
          : turn
            ? 'Point at it a second time; what you pointed at first is hidden, so that it does not lead you.'
            : 'Point at the same spot of it in every frame.'}
      </p>
      <div className="film-things" role="group" aria-label="What is followed">
        {work.things.map((t, i) => (
          <button key={t.id} type="button" className="film-thing" aria-pressed={t.id === thing} onClick={() => onThing(t.id)}>
            <svg viewBox="0 0 10 10" aria-hidden="true">
              <circle cx="5" cy="5" r="4" fill={colourOf(i)} />
            </svg>
            {t.name}
          </button>
        ))}
        {work.things.length < MOST_THINGS && (
          <Button size="small" type="text" onClick={add}>
            + another thing
          </Button>
        )}
      </div>
      <div className="film-fields">
        <Labelled words="called">
          <Input className="field-short" value={here?.name ?? ''} maxLength={40} onChange={(e) => part({ name: e.target.value })} />
        </Labelled>
        <Labelled words="every">
          <InputNumber className="field-tiny" min={1} max={1000} value={work.step} onChange={(n) => change((w) => ({ ...w, step: n ?? 1 }))} />
          <span className="quiet">{work.step === 1 ? 'frame' : 'frames'}</span>
        </Labelled>
        <Segmented
          aria-label="How often it was pointed at"
          size="small"
          value={turn}
          options={[
            { value: 0, label: 'first time' },
            { value: 1, label: 'second time' },
          ]}
          onChange={onTurn}
        />
        <Checkbox checked={goesOn} onChange={(e) => onGoesOn(e.target.checked)}>
          go on by itself
        </Checkbox>
        <Checkbox
          checked={here?.pivot !== null || pivoting}
          onChange={(e) => {
            onPivoting(e.target.checked);
            if (!e.target.checked) part({ pivot: null });
          }}
        >
          also its angle about a fixed place
        </Checkbox>
      </div>
      <div className="film-fields">
        <span role="status">{said}</span>
        <Entry
          words="or as you judge, pixels"
          value={work.within}
          maxLength={10}
          exact
          className="field-tiny"
          onWrite={(within) => change((w) => ({ ...w, within }))}
        />
      </div>
      {isMarked && (
        <Button size="small" onClick={() => change((w) => withoutMark(w, thing, frame, turn))}>
          Take the mark of this frame away
        </Button>
      )}
    </>
  );
}
