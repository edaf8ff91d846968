// Edits on their way to the server, and what its answer means for their rows.
import { type Schemas, client } from '@/shared/api/client';
import type { Outcome, QueueRow } from './rows';

/** What the server says of an edit that it has kept: the revision, and what this person can take back now. */
export interface Kept {
  revision: number;
  undo: string;
  redo: string;
}

interface Said {
  code?: string;
  detail?: string;
  theirs?: string | null;
}

/** An outcome for each row; one that has to wait ends them. With a place the others at the bench see that this person is there. */
export async function postEdits(rows: QueueRow[], place: string | null = null): Promise<Outcome<Kept>[]> {
  let answer = await postOnce(rows, place);
  if (answer === 'forged') {
    // the token that proves a request is ours has been renewed meanwhile; asking who I am brings the new one
    await fetch('/api/me').catch(() => undefined);
    answer = await postOnce(rows, place);
  }
  if (Array.isArray(answer)) return answer;
  const outcome = answer === 'forged' ? refused(403, undefined) : answer;
  if (outcome.kind === 'later' || rows.length === 1) return [outcome];
  // it may be one of them that the server would not read: each is sent by itself
  const outcomes: Outcome<Kept>[] = [];
  for (const row of rows) {
    outcomes.push(...(await postEdits([row])));
    if (outcomes.at(-1)?.kind === 'later') break;
  }
  return outcomes;
}

type Posted = Outcome<Kept>[] | Exclude<Outcome<Kept>, { kind: 'kept' }> | 'forged';

async function postOnce(rows: QueueRow[], place: string | null): Promise<Posted> {
  const params = { path: { book_id: rows[0]?.book ?? 0 } };
  const body = { edits: rows.map((row) => ({ client_id: row.id, edit: row.edit })), place };
  let answer: { data?: unknown; error?: unknown; response: Response };
  try {
    answer = await client.POST('/api/books/{book_id}/edits', { params, body });
  } catch {
    return { kind: 'later', why: 'unreachable', words: 'The server cannot be reached.', after: null };
  }
  const { status, ok, headers } = answer.response;
  if (ok) return (answer.data as Schemas['EditsOut']).answers.map((one) => outcomeOf(one, answer.data as Schemas['EditsOut']));
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

function outcomeOf(one: Schemas['EditOut'], all: Schemas['EditsOut']): Outcome<Kept> {
  if (one.revision !== null) return { kind: 'kept', answer: { revision: one.revision, undo: all.undo, redo: all.redo } };
  return refused(one.refused?.status ?? 0, one.refused ?? undefined);
}

function refused(status: number, said: Said | undefined): Extract<Outcome<Kept>, { kind: 'refused' }> {
  const words = status === 413 ? 'This is more than can be kept at once. Make it smaller.' : `The server would not keep this (${status}).`;
  return { kind: 'refused', code: said?.code ?? String(status), words: said?.detail ?? words, theirs: said?.theirs ?? null };
}
