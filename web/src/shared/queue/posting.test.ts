// What an answer of the server means for what was sent.
import { afterEach, describe, expect, it, vi } from 'vitest';
import { client } from '@/shared/api/client';
import { postEdit } from './posting';
import type { QueueRow } from './rows';

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

afterEach(() => vi.restoreAllMocks());

describe('posting an edit', () => {
  it('is kept when the server says so', async () => {
    answering({ status: 200, body: { revision: 3 } });
    expect(await postEdit(row, '')).toEqual({ kind: 'kept', answer: { revision: 3 } });
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
    expect(await postEdit(row, '')).toMatchObject({ kind: 'later', why, after: null });
  });

  it('waits as long as the server asks', async () => {
    answering({ status: 503, body: { code: 'unavailable', detail: 'The server cannot write just now.' }, headers: { 'Retry-After': '2' } });
    expect(await postEdit(row, '')).toMatchObject({ kind: 'later', after: 2000, words: 'The server cannot write just now.' });
  });

  it.each([400, 404, 409, 413, 422])('is refused by %s', async (status) => {
    answering({ status, body: { code: 'c', detail: 'Because.', theirs: '9.9' } });
    expect(await postEdit(row, '')).toEqual({ kind: 'refused', code: 'c', words: 'Because.', theirs: '9.9' });
  });

  it('has words of its own where the answer has none', async () => {
    answering({ status: 413, body: null }, { status: 404, body: null });
    expect(await postEdit(row, '')).toMatchObject({ code: '413', words: 'This is more than can be kept at once. Make it smaller.' });
    expect(await postEdit(row, '')).toMatchObject({ code: '404', words: 'The server would not keep this (404).' });
  });

  it('fetches a new token once when the old one is not taken', async () => {
    const fetched = vi.spyOn(globalThis, 'fetch').mockResolvedValue(new Response('{}'));
    const post = answering({ status: 403, body: null }, { status: 200, body: { revision: 4 } });
    expect(await postEdit(row, '')).toMatchObject({ kind: 'kept' });
    expect([post.mock.calls.length, fetched.mock.calls.length]).toEqual([2, 1]);
    answering({ status: 403, body: null }, { status: 403, body: null });
    expect(await postEdit(row, '')).toMatchObject({ kind: 'refused', code: '403' });
  });

  it('does not take a refusal of the server for a token that is not taken', async () => {
    const fetched = vi.spyOn(globalThis, 'fetch');
    answering({ status: 403, body: { code: 'given', detail: 'The plan has fixed this.' } });
    expect(await postEdit(row, '')).toMatchObject({ kind: 'refused', code: 'given' });
    expect(fetched).not.toHaveBeenCalled();
  });
});
