// The scale: a length that is known, from end to end.
import { useDecimalMark } from '@/shared/book/context';
import { withMark } from '@/shared/book/decimalMark';
import { Entry } from '@/shared/ui/Entry';
import type { Work } from './marks';

interface Props {
  work: Work;
  change: (next: (before: Work) => Work) => void;
  /** How large a pixel is, or what is in the way of that. */
  said: string;
}

const ENDS = ['Point at one end of a length that you know: a rule, a brick, a sheet of paper.', 'Now point at its other end.'];

export function ScaleTool({ work, change, said }: Props) {
  const mark = useDecimalMark();
  return (
    <>
      <p>{ENDS[work.ends.length] ?? 'An end that you point at anew takes the place of the nearer one.'}</p>
      <div className="film-fields">
        <Entry
          words="It is"
          value={work.length}
          maxLength={20}
          exact
          className="field-tiny"
          placeholder={withMark('1.000', mark)}
          onWrite={(length) => change((w) => ({ ...w, length }))}
        />
        <Entry
          words="±"
          value={work.u}
          maxLength={20}
          exact
          className="field-tiny"
          placeholder={withMark('0.001', mark)}
          onWrite={(u) => change((w) => ({ ...w, u }))}
        />
        <Entry words="in" value={work.unit} maxLength={10} exact className="field-unit" placeholder="m" onWrite={(unit) => change((w) => ({ ...w, unit }))} />
      </div>
      {said && <p role="status">{said}</p>}
      <p className="quiet">Take a length as far away from the camera as what moves, and a long one.</p>
    </>
  );
}
