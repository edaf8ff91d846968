// The practicals of a class of which nothing is to be expected any more, folded: a line each, with the ways to all that was written.
import { Link } from 'react-router';
import type { Schemas } from '@/shared/api/client';
import { spokenDate } from '@/shared/ui/moments';
import { told } from '@/shared/ui/told';

type PracticalOut = Schemas['PracticalOut'];

export function Earlier({ practicals, teaches }: { practicals: PracticalOut[]; teaches: boolean }) {
  if (practicals.length === 0) return null;
  return (
    <details className="earlier">
      <summary>Earlier: {practicals.length === 1 ? 'one practical' : `${practicals.length} practicals`}</summary>
      <ul className="card own-list">{practicals.map((p) => (teaches ? <TaughtLine key={p.id} practical={p} /> : <OwnLine key={p.id} practical={p} />))}</ul>
    </details>
  );
}

function TaughtLine({ practical: p }: { practical: PracticalOut }) {
  return (
    <li>
      <Link to={`/practicals/${p.id}/walkround`} aria-label={`Walkround of ${p.title}`}>
        {p.title}
      </Link>
      <span className="quiet">{spokenDate(p.given_out)}</span>
      <Link to={`/practicals/${p.id}/hand-ins`} aria-label={`${p.handed_in} of ${p.bench_count} handed in: ${p.title}`}>
        {p.handed_in} of {p.bench_count} handed in
      </Link>
      <Link to={`/practicals/${p.id}/pool`} aria-label={`Pool of ${p.title}`}>
        Pool
      </Link>
    </li>
  );
}

/** Where one sits comes first; a lab book of where one sat before can still be read. */
function OwnLine({ practical: p }: { practical: PracticalOut }) {
  const [book, ...before] = p.benches;
  return (
    <li>
      {book ? <Link to={`/books/${book.book}`}>{p.title}</Link> : <span>{p.title}</span>}
      <span className="quiet">{spokenDate(p.given_out)}</span>
      {book && (book.trouble.length > 0 ? <span className="quiet">{told(book.trouble)}</span> : <span className="mono">{book.finding}</span>)}
      <span>
        {book && book.handed_in > 0 && <span className="tag good">handed in</span>}
        {before.map((b) => (
          <Link key={b.book} to={`/books/${b.book}/read`} aria-label={`${p.title}: ${b.bench}, where you sat before`}>
            {b.bench}
          </Link>
        ))}
      </span>
    </li>
  );
}
