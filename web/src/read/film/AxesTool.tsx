// Where positions count from and along, and from when on time counts.
import { Button, Segmented } from 'antd';
import { Entry } from '@/shared/ui/Entry';
import { Labelled } from '@/shared/ui/Labelled';
import type { Work } from './marks';

interface Props {
  work: Work;
  change: (next: (before: Work) => Work) => void;
  /** The frame that is looked at. */
  frame: number;
  /** The film has times of its own. */
  timed: boolean;
  /** The x axis goes through a second place, which is still to be pointed at. */
  turning: boolean;
  onTurning: (turning: boolean) => void;
}

export function AxesTool({ work, change, frame, timed, turning, onTurning }: Props) {
  const turned = work.along !== null || turning;
  const words = turning && work.origin ? 'Point at a place on the x axis, on its positive side.' : 'Point at the place that positions count from.';
  return (
    <>
      <p>{words}</p>
      <div className="film-fields">
        <Labelled words="x goes" group>
          <Segmented
            aria-label="Which way x goes"
            size="small"
            value={turned ? 'through' : 'right'}
            options={[
              { value: 'right', label: 'to the right' },
              { value: 'through', label: 'through a place' },
            ]}
            onChange={(to) => {
              onTurning(to === 'through');
              if (to === 'right') change((w) => ({ ...w, along: null }));
            }}
          />
        </Labelled>
        <Labelled words="y goes" group>
          <Segmented
            aria-label="Which way y goes"
            size="small"
            value={work.down ? 'down' : 'up'}
            options={
              turned
                ? [
                    { value: 'up', label: 'to the left of x' },
                    { value: 'down', label: 'to its right' },
                  ]
                : [
                    { value: 'up', label: 'up' },
                    { value: 'down', label: 'down' },
                  ]
            }
            onChange={(to) => change((w) => ({ ...w, down: to === 'down' }))}
          />
        </Labelled>
        <span className="row">
          {timed || work.every ? `Time counts from frame ${work.start + 1}.` : `Frames count from ${work.start + 1}.`}
          {work.start !== frame && (
            <Button size="small" onClick={() => change((w) => ({ ...w, start: frame }))}>
              from this one
            </Button>
          )}
        </span>
        <Entry
          words="From frame to frame, s"
          value={work.every}
          maxLength={20}
          exact
          className="field-short"
          placeholder={timed ? 'as the film has it' : ''}
          onWrite={(every) => change((w) => ({ ...w, every }))}
        />
      </div>
      <p className="quiet">
        {timed
          ? 'Times are those of the file. For a film that is played slower than it was taken, write the true time from frame to frame.'
          : 'Pictures have no times: write how long it is from one to the next, if that matters.'}
      </p>
    </>
  );
}
