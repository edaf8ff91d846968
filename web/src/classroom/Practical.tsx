// A practical on the start page: for a teacher every bench with its trail in small, for a student the own lab book.
import { Button } from 'antd';
import type { MouseEvent } from 'react';
import { Link, useNavigate } from 'react-router';
import type { Schemas } from '@/shared/api/client';
import { seenMarks } from '@/shared/book/seen';
import { MiniTrail } from '@/shared/ui/MiniTrail';
import { benchName } from '@/shared/ui/benchName';
import { spokenDate } from '@/shared/ui/moments';
import { told } from '@/shared/ui/told';
import { Typeset } from '@/shared/ui/Typeset';

type PracticalOut = Schemas['PracticalOut'];
type BenchSummary = Schemas['BenchSummary'];

/** What makes a button a link within the application: a button inside a link would be reached twice with Tab. */
function useLink() {
  const navigate = useNavigate();
  return (to: string) => ({
    href: to,
    onClick: (e: MouseEvent) => {
      if (e.metaKey || e.ctrlKey || e.shiftKey) return;
      e.preventDefault();
      void navigate(to);
    },
  });
}

export function TeacherPractical({ practical: p }: { practical: PracticalOut }) {
  const link = useLink();
  const finished = p.benches.filter((b) => b.finding).length;
  return (
    <article className="card practical">
      <div className="row spread">
        <div>
          <h2>{p.title}</h2>
          <p className="quiet">{p.question}</p>
        </div>
        <div className="row">
          <Button type="primary" {...link(`/practicals/${p.id}/walkround`)}>
            Walkround
          </Button>
          <Button {...link(`/practicals/${p.id}/hand-ins`)}>
            Hand-ins: {p.handed_in} of {p.bench_count}
          </Button>
          <Button {...link(`/practicals/${p.id}/pool`)}>
            Pool: {finished} of {p.bench_count} benches have a finding
          </Button>
        </div>
      </div>
      <table className="benches">
        <thead>
          <tr>
            <th scope="col">Bench</th>
            <th scope="col">Trail</th>
            <th scope="col">Finding so far</th>
            <th scope="col">To look at</th>
          </tr>
        </thead>
        <tbody>
          {p.benches.map((b) => (
            <BenchLine key={b.book} bench={b} />
          ))}
        </tbody>
      </table>
    </article>
  );
}

function BenchLine({ bench: b }: { bench: BenchSummary }) {
  const navigate = useNavigate();
  return (
    <tr onClick={() => void navigate(`/books/${b.book}/read`)}>
      <th scope="row">
        <Link to={`/books/${b.book}/read`} onClick={(e) => e.stopPropagation()}>
          {b.bench}
        </Link>
        <span className="quiet names-line">{b.names.join(', ')}</span>
      </th>
      <td>
        <MiniTrail stages={seenMarks(b.stages, b.opened)} />
      </td>
      {b.trouble.length > 0 ? (
        <td className="quiet">
          <Typeset text={told(b.trouble)} />
        </td>
      ) : (
        <td className="mono finding">{b.finding || <span className="quiet">no finding yet</span>}</td>
      )}
      <td>
        {b.slips > 0 && <span className="tag warn">{b.slips === 1 ? '1 slip' : `${b.slips} slips`}</span>}
        {b.returned && <span className="tag warn">given back</span>}
        {b.handed_in > 0 && !b.returned && <span className="tag good">handed in{b.handed_in > 1 ? ` (${b.handed_in})` : ''}</span>}
        {b.open_remarks > 0 && <span className="tag">{b.open_remarks === 1 ? '1 remark' : `${b.open_remarks} remarks`}</span>}
      </td>
    </tr>
  );
}

export function OwnPractical({ practical: p }: { practical: PracticalOut }) {
  const link = useLink();
  if (p.coming)
    return (
      <article className="card practical">
        <h2>{p.title}</h2>
        <p className="quiet">It opens on {spokenDate(p.given_out)}.</p>
      </article>
    );
  const own = p.benches.find((b) => b.sits_here);
  const before = p.benches.filter((b) => !b.sits_here);
  return (
    <article className="card practical">
      <div className="row spread">
        <div>
          <h2>{p.title}</h2>
          <p className="quiet">{p.question}</p>
        </div>
        {own && (
          <Button type="primary" {...link(`/books/${own.book}`)}>
            Open the lab book
          </Button>
        )}
      </div>
      {own ? (
        <div className="row space-above">
          <MiniTrail stages={seenMarks(own.stages, own.opened)} />
          {own.trouble.length > 0 ? <span className="quiet">{told(own.trouble)}</span> : <span className="mono">{own.finding || 'no finding yet'}</span>}
          <span className="quiet">
            {benchName(own.bench, 'Bench')}: {own.names.join(', ')}
          </span>
          {own.returned && <span className="tag warn">given back, to hand in again</span>}
          {own.open_remarks > 0 && <span className="tag">{own.open_remarks === 1 ? '1 remark' : `${own.open_remarks} remarks`} from your teacher</span>}
        </div>
      ) : (
        <p className="notice">You do not sit at a bench yet. Ask your teacher.</p>
      )}
      {before.map((b) => (
        <p key={b.book} className="quiet sat-before">
          Before, you sat at <Link to={`/books/${b.book}/read`}>{b.bench}</Link>: its lab book can still be read.
        </p>
      ))}
    </article>
  );
}
