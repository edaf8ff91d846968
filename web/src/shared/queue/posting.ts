// One edit on its way to the server, and what its answer means for the row.
import { type Schemas, client } from '@/shared/api/client';
import type { Outcome, QueueRow } from './rows';

type Kept = Outcome<Schemas['BookWork']>;

interface Said {
  code?: string;
  detail?: string;
  theirs?: string | null;
}

export async function postEdit(row: QueueRow, run: string): Promise<Kept> {
  const first = await postOnce(row, run);
  if (first !== 'forged') return first;
  // the token that proves a request is ours has been renewed meanwhile; asking who I am brings the new one
  await fetch('/api/me').catch(() => undefined);
  const second = await postOnce(row, run);
  return second === 'forged' ? refused(403, undefined) : second;
}

async function postOnce(row: QueueRow, run: string): Promise<Kept | 'forged'> {
  const params = { path: { book_id: row.book }, query: { run } };
  let answer: { data?: unknown; error?: unknown; response: Response };
  try {
    answer = await client.POST('/api/books/{book_id}/edits', { params, body: { client_id: row.id, edit: row.edit } });
  } catch {
    return { kind: 'later', why: 'unreachable', words: 'The server cannot be reached.', after: null };
  }
  const { status, ok, headers } = answer.response;
  if (ok) return { kind: 'kept', answer: answer.data as Schemas['BookWork'] };
  const said = typeof answer.error === 'object' && answer.error !== null ? (answer.error as Said) : undefined;
  if (status === 403 && !said?.code) return 'forged';
  if (status === 401) return { kind: 'later', why: 'signed_out', words: said?.detail ?? 'You are signed out.', after: null };
  if (status === 429 || status >= 500) {
    const seconds = Number(headers.get('Retry-After'));
    return {
      kind: 'later',
      why: 'busy',
      words: said?.detail ?? 'The server could not do this just now.',
      after: seconds > 0 ? seconds * 1000 : null,
    };
  }
  return refused(status, said);
}

function refused(status: number, said: Said | undefined): Extract<Kept, { kind: 'refused' }> {
  const words = status === 413 ? 'This is more than can be kept at once. Make it smaller.' : `The server would not keep this (${status}).`;
  return { kind: 'refused', code: said?.code ?? String(status), words: said?.detail ?? words, theirs: said?.theirs ?? null };
}
