// What an answer of the server means for what was sent.
import { afterEach, describe, expect, it, vi } from 'vitest';
import { client } from '@/shared/api/client';
import { type Kept, postEdits } from './posting';
import type { Outcome, QueueRow } from './rows';

const row = {
  n: 1,
  person: 1,
  book: 7,
  id: 'x',
  version: 1,
  edit: { type: 'remove_run', run: 'r' },
  state: 'waiting',
  words: '',
  code: '',
  theirs: null,
} as QueueRow;

/** The next answers of the server: a status with a problem, a page (null), or no answer at all. */
function answering(...answers: ({ status: number; body: object | null; headers?: Record<string, string> } | 'nothing')[]) {
  const post = vi.spyOn(client, 'POST');
  for (const answer of answers) {
    if (answer === 'nothing') post.mockRejectedValueOnce(new TypeError('failed to fetch'));
    else {
      const response = new Response('', { status: answer.status, headers: answer.headers });
      const content = response.ok ? { data: answer.body, response } : { error: answer.body ?? '<h1>No</h1>', response };
      post.mockResolvedValueOnce(content);
    }
  }
  return post;
}

const answers = (...all: object[]) => ({ undo: 'undo', redo: '', answers: all });
const postOne = async (): Promise<Outcome<Kept> | undefined> => (await postEdits([row]))[0];

afterEach(() => vi.restoreAllMocks());

describe('posting an edit', () => {
  it('is kept when the server says so', async () => {
    answering({ status: 200, body: answers({ revision: 3, refused: null }) });
    expect(await postOne()).toEqual({ kind: 'kept', answer: { revision: 3, undo: 'undo', redo: '' } });
  });

  it.each([
    ['nothing', 'unreachable'],
    [500, 'busy'],
    [502, 'busy'],
    [503, 'busy'],
    [429, 'busy'],
    [401, 'signed_out'],
  ] as const)('waits after %s', async (status, why) => {
    answering(status === 'nothing' ? 'nothing' : { status, body: null });
    expect(await postOne()).toMatchObject({ kind: 'later', why, after: null });
  });

  it('waits as long as the server asks', async () => {
    answering({ status: 503, body: { code: 'unavailable', detail: 'The server cannot write just now.' }, headers: { 'Retry-After': '2' } });
    expect(await postOne()).toMatchObject({ kind: 'later', after: 2000, words: 'The server cannot write just now.' });
  });

  it.each([400, 404, 409, 413, 422])('is refused by %s', async (status) => {
    answering({ status, body: { code: 'c', detail: 'Because.', theirs: '9.9' } });
    expect(await postOne()).toEqual({ kind: 'refused', code: 'c', words: 'Because.', theirs: '9.9' });
  });

  it('has words of its own where the answer has none', async () => {
    answering({ status: 413, body: null }, { status: 404, body: null });
    expect(await postOne()).toMatchObject({ code: '413', words: 'This is more than can be kept at once. Make it smaller.' });
    expect(await postOne()).toMatchObject({ code: '404', words: 'The server would not keep this (404).' });
  });

  it('fetches a new token once when the old one is not taken', async () => {
    const fetched = vi.spyOn(globalThis, 'fetch').mockResolvedValue(new Response('{}'));
    const post = answering({ status: 403, body: null }, { status: 200, body: answers({ revision: 4, refused: null }) });
    expect(await postOne()).toMatchObject({ kind: 'kept' });
    expect([post.mock.calls.length, fetched.mock.calls.length]).toEqual([2, 1]);
    answering({ status: 403, body: null }, { status: 403, body: null });
    expect(await postOne()).toMatchObject({ kind: 'refused', code: '403' });
  });

  it('does not take a refusal of the server for a token that is not taken', async () => {
    const fetched = vi.spyOn(globalThis, 'fetch');
    answering({ status: 403, body: { code: 'given', detail: 'The plan has fixed this.' } });
    expect(await postOne()).toMatchObject({ kind: 'refused', code: 'given' });
    expect(fetched).not.toHaveBeenCalled();
  });

  it('is answered for each of several, and one that is refused leaves the others', async () => {
    const refused = { status: 409, code: 'clash', detail: 'Changed meanwhile.', theirs: '5.1' };
    answering({ status: 200, body: answers({ revision: 3, refused: null }, { revision: null, refused }, { revision: 4, refused: null }) });
    expect(await postEdits([row, row, row])).toEqual([
      { kind: 'kept', answer: { revision: 3, undo: 'undo', redo: '' } },
      { kind: 'refused', code: 'clash', words: 'Changed meanwhile.', theirs: '5.1' },
      { kind: 'kept', answer: { revision: 4, undo: 'undo', redo: '' } },
    ]);
  });

  it('sends several one by one where the server would not read them together', async () => {
    const fine = { status: 200, body: answers({ revision: 3, refused: null }) };
    answering({ status: 422, body: { code: 'bad_request', detail: 'No.' } }, fine, { status: 422, body: { code: 'bad_request', detail: 'No.' } }, fine);
    expect((await postEdits([row, row, row])).map((o) => o.kind)).toEqual(['kept', 'refused', 'kept']);
    answering({ status: 413, body: null }, fine, { status: 503, body: null });
    expect((await postEdits([row, row, row])).map((o) => o.kind)).toEqual(['kept', 'later']);
  });
});
