// What is typed is kept until it is kept elsewhere: every way in which sending can go, and two tabs at once.
import { IDBObjectStore } from 'fake-indexeddb';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Edit } from '@/shared/api/client';
import { rowsOfBook, rowsOfPerson } from './database';
import { freshDevice } from './device.fixture';
import { whileLeased } from './lock';
import { Outbox } from './outbox';
import type { Outcome, QueueRow } from './rows';

type Answered = Outcome<string>;
const kept: Answered = { kind: 'kept', answer: 'kept' };
const unreachable: Answered = { kind: 'later', why: 'unreachable', words: '', after: 5 };
const refusedWith = (code: string, theirs: string | null = null): Answered => ({ kind: 'refused', code, words: `no: ${code}`, theirs });

function reading(text: string, was = '', repeat = 0): Edit {
  return { type: 'set_reading', run: 'r', setting: 's', quantity: 'q', repeat, text, was, set_aside: null };
}

/** A server that answers as it is told, and remembers what it has kept. */
class Server {
  readonly got: QueueRow[] = [];
  readonly done = new Map<string, string>();
  answers: (row: QueueRow) => Answered | Promise<Answered> = () => kept;

  readonly post = async (row: QueueRow): Promise<Answered> => {
    this.got.push(row);
    const answer = await this.answers(row);
    if (answer.kind === 'kept' && row.edit.type === 'set_reading') this.done.set(row.id, row.edit.text);
    return answer;
  };

  readonly postAll = async (rows: QueueRow[]): Promise<Answered[]> => {
    const outcomes: Answered[] = [];
    for (const row of rows) {
      outcomes.push(await this.post(row));
      if (outcomes.at(-1)?.kind === 'later') break;
    }
    return outcomes;
  };

  get texts(): string[] {
    return [...this.done.values()];
  }
}

/** A busy machine may take its time. */
const until = (check: () => void | Promise<void>) => vi.waitFor(check, { timeout: 15_000 });

let server: Server;
let leave: () => void;
const open: Outbox<string>[] = [];

function tab(person = 1, book = 7): Outbox<string> {
  const outbox = new Outbox<string>(person, book, { post: server.postAll, onKept: () => undefined, onRefused: () => undefined });
  open.push(outbox);
  return outbox;
}

const texts = (outbox: Outbox<string>) => outbox.read().rows.map((r) => (r.edit.type === 'set_reading' ? `${r.state} ${r.edit.text}` : ''));

beforeEach(() => {
  server = new Server();
  leave = freshDevice();
});

afterEach(() => {
  vi.restoreAllMocks();
  for (const outbox of open.splice(0)) outbox.close();
});

describe('an outbox', () => {
  it('sends edits once and in their order, and then holds none', async () => {
    const outbox = tab();
    for (const text of ['1', '2', '3', '4', '5']) outbox.add(reading(text));
    expect(texts(outbox)).toEqual(['waiting 1', 'waiting 2', 'waiting 3', 'waiting 4', 'waiting 5']);
    await until(() => expect(server.texts).toEqual(['1', '2', '3', '4', '5']));
    await until(async () => expect(await rowsOfBook(1, 7)).toEqual([]));
    expect(outbox.read().rows).toEqual([]);
  });

  it('keeps what cannot be sent, through a reload, and sends it under the same id', async () => {
    server.answers = () => unreachable;
    const first = tab();
    first.add(reading('2.50'));
    first.add(reading('2.60', '', 1));
    await until(async () => expect(await rowsOfBook(1, 7)).toHaveLength(2));
    await until(() => expect(first.read().held).toBe('unreachable'));
    first.close();
    const ids = (await rowsOfBook(1, 7)).map((r) => r.id);
    server.answers = () => kept;
    const second = tab();
    await until(() => expect(server.texts).toEqual(['2.50', '2.60']));
    expect([...server.done.keys()]).toEqual(ids);
    await until(() => expect(second.read().rows).toEqual([]));
  });

  it.each(['busy', 'signed_out'] as const)('holds everything while the server is %s, in order', async (why) => {
    let times = 0;
    server.answers = () => (++times < 3 ? { kind: 'later', why, words: 'later', after: 5 } : kept);
    const outbox = tab();
    outbox.add(reading('1'));
    outbox.add(reading('2', '', 1));
    await until(() => expect(server.texts).toEqual(['1', '2']));
    expect(server.got.map((r) => r.id).filter((id) => id === server.got[0]?.id)).toHaveLength(3);
  });

  it('parks what is refused, with its sentence, and goes on', async () => {
    server.answers = (row) => (row.edit.type === 'set_reading' && row.edit.text === 'bad' ? refusedWith('given') : kept);
    const outbox = tab();
    outbox.add(reading('bad'));
    outbox.add(reading('good', '', 1));
    await until(() => expect(server.texts).toEqual(['good']));
    await until(() => expect(texts(outbox)).toEqual(['refused bad']));
    expect(outbox.read().rows[0]).toMatchObject({ words: 'no: given', code: 'given' });
    expect(await rowsOfBook(1, 7)).toMatchObject([{ state: 'refused', words: 'no: given' }]);
    expect(outbox.read().held).toBe('');
  });

  it('tries a refused one again, and lets another go', async () => {
    server.answers = () => refusedWith('given');
    const outbox = tab();
    outbox.add(reading('1'));
    outbox.add(reading('2', '', 1));
    await until(() => expect(texts(outbox)).toEqual(['refused 1', 'refused 2']));
    server.answers = () => kept;
    const [first, second] = outbox.read().rows.map((r) => r.id);
    outbox.leave(second ?? '');
    outbox.retry(first ?? '');
    await until(() => expect(server.texts).toEqual(['1']));
    await until(async () => expect(await rowsOfBook(1, 7)).toEqual([]));
  });

  it('writes mine in the place of theirs after a clash', async () => {
    server.answers = () => refusedWith('clash', '9.99');
    const outbox = tab();
    outbox.add(reading('2.50', '2.40'));
    await until(() => expect(texts(outbox)).toEqual(['refused 2.50']));
    server.answers = () => kept;
    outbox.retry(outbox.read().rows[0]?.id ?? '');
    await until(() => expect(server.texts).toEqual(['2.50']));
    expect(server.got.at(-1)?.edit).toMatchObject({ text: '2.50', was: '9.99' });
  });

  it('lets a new text replace a refused one in its cell, against what the server has', async () => {
    server.answers = () => refusedWith('too_long');
    const outbox = tab();
    outbox.add(reading('wrong', '2.40'));
    await until(() => expect(texts(outbox)).toEqual(['refused wrong']));
    server.answers = () => kept;
    outbox.add(reading('2.50', 'wrong'));
    expect(texts(outbox)).toEqual(['waiting 2.50']);
    await until(() => expect(server.texts).toEqual(['2.50']));
    expect(server.got.at(-1)?.edit).toMatchObject({ was: '2.40' });
    await until(async () => expect(await rowsOfBook(1, 7)).toEqual([]));
  });

  it('takes what is typed while it is asked about for mine, not for an answer', async () => {
    server.answers = () => refusedWith('clash', '9.99');
    const outbox = tab();
    outbox.add(reading('2.50', '2.40'));
    await until(() => expect(texts(outbox)).toEqual(['refused 2.50']));
    outbox.add(reading('2.60', '2.50'));
    expect(texts(outbox)).toEqual(['refused 2.60']);
    await until(async () => expect((await rowsOfBook(1, 7)).map((r) => r.edit)).toMatchObject([{ text: '2.60', was: '2.40' }]));
    server.answers = () => kept;
    outbox.retry(outbox.read().rows[0]?.id ?? '');
    await until(() => expect(server.texts).toEqual(['2.60']));
    expect(server.got.at(-1)?.edit).toMatchObject({ text: '2.60', was: '9.99' });
  });

  it('asks once where two were typed one after the other while nobody could be asked', async () => {
    server.answers = () => refusedWith('clash', '9.99');
    const outbox = tab();
    outbox.add(reading('2.50', '2.40'));
    outbox.add(reading('2.60', '2.50'));
    await until(() => expect(texts(outbox)).toEqual(['refused 2.60']));
    await until(async () => expect(await rowsOfBook(1, 7)).toHaveLength(1));
    server.answers = () => refusedWith('too_long');
    outbox.add(reading('9', '', 1));
    await until(() => expect(texts(outbox)).toEqual(['refused 2.60', 'refused 9']));
  });

  it('loses nothing when the page is left before the device has written it', async () => {
    const first = tab();
    await first.loaded;
    const add = vi.spyOn(IDBObjectStore.prototype, 'add').mockImplementation(() => {
      throw new DOMException('going', 'AbortError');
    });
    server.answers = () => unreachable;
    first.add(reading('2.50'));
    leave();
    first.close();
    add.mockRestore();
    server.answers = () => kept;
    tab();
    await until(() => expect(server.texts).toEqual(['2.50']));
    await until(async () => expect(await rowsOfBook(1, 7)).toEqual([]));
    expect(localStorage.getItem('hobrel:left:1:7')).toBeNull();
  });

  it('needs a refused choice no more when another has been made of the same', async () => {
    const place = (low: number) => ({ type: 'place_fit', fit: 'f', was: { low: null }, becomes: { low } }) as unknown as Edit;
    server.answers = (row) => (row.edit.type === 'place_fit' && row.edit.becomes.low === 9 ? refusedWith('bad_range') : kept);
    const outbox = tab();
    outbox.add(place(9));
    await until(() => expect(outbox.read().rows.map((r) => r.state)).toEqual(['refused']));
    outbox.add(place(0));
    await until(async () => expect(await rowsOfBook(1, 7)).toEqual([]));
    expect(server.got.map((r) => r.edit)).toMatchObject([{ becomes: { low: 9 } }, { becomes: { low: 0 } }]);
  });

  it('keeps a refused choice of one field when another field of the same is chosen, and puts it over what is there now when asked', async () => {
    const place = (becomes: object) => ({ type: 'place_graph', graph: 'g', was: { x_low: 1 }, becomes }) as unknown as Edit;
    server.answers = (row) => (row.edit.type === 'place_graph' && 'x_low' in row.edit.becomes ? refusedWith('clash', '{"x_low":7}') : kept);
    const outbox = tab();
    outbox.add(place({ x_low: 5 }));
    await until(() => expect(outbox.read().rows.map((r) => r.state)).toEqual(['refused']));
    outbox.add(place({ origin: true }));
    await until(() => expect(server.done.size + server.got.length).toBeGreaterThan(1));
    expect(outbox.read().rows.map((r) => r.state)).toContain('refused');
    server.answers = () => kept;
    outbox.retry(outbox.read().rows[0]?.id ?? '');
    await until(async () => expect(await rowsOfBook(1, 7)).toEqual([]));
    expect(server.got.at(-1)?.edit).toMatchObject({ was: { x_low: 7 }, becomes: { x_low: 5 } });
  });

  it('never sends what another person left on this device', async () => {
    server.answers = () => unreachable;
    const ann = tab(1);
    ann.add(reading('ann'));
    await until(async () => expect(await rowsOfPerson(1)).toHaveLength(1));
    ann.close();
    server.answers = () => kept;
    const bo = tab(2);
    bo.add(reading('bo'));
    await until(() => expect(server.texts).toEqual(['bo']));
    expect(await rowsOfPerson(1)).toHaveLength(1);
    await until(() => expect(bo.read().rows).toEqual([]));
  });

  it('sends from one of two tabs, each edit once, and both see it go', async () => {
    const [one, two] = [tab(), tab()];
    for (let i = 0; i < 10; i++) (i % 2 ? one : two).add(reading(String(i), '', i));
    await until(() => expect(server.done.size).toBe(10));
    await until(() => expect([...one.read().rows, ...two.read().rows]).toEqual([]));
    expect(new Set(server.got.map((r) => r.id)).size).toBe(server.got.length);
  });

  it('says that the page has to stay open where the device has no room, and sends all the same', async () => {
    vi.spyOn(IDBObjectStore.prototype, 'add').mockImplementation(() => {
      throw new DOMException('full', 'QuotaExceededError');
    });
    server.answers = () => unreachable;
    const outbox = tab();
    outbox.add(reading('2.50'));
    await until(() => expect(outbox.read().onlyHere).toBe(true));
    expect(texts(outbox)).toEqual(['waiting 2.50']);
    server.answers = () => kept;
    await until(() => expect(server.texts).toEqual(['2.50']));
    await until(() => expect(outbox.read()).toMatchObject({ rows: [], onlyHere: false }));
  });
});

describe('a lease', () => {
  it('lets one in at a time, and the next when it is given back', async () => {
    const seen: string[] = [];
    const work = (name: string) => async () => {
      seen.push(`${name} in`);
      await new Promise((then) => setTimeout(then, 30));
      seen.push(`${name} out`);
    };
    await Promise.all([whileLeased('x', 'a', work('a')), whileLeased('x', 'b', work('b'))]);
    expect(seen.map((s) => s.split(' ')[1])).toEqual(['in', 'out', 'in', 'out']);
  });

  it('is free again when its holder has not been heard of for a while', async () => {
    let never: (() => void) | undefined;
    void whileLeased('x', 'dead', () => new Promise((then) => (never = then)));
    await until(() => expect(never).toBeDefined());
    const later = Date.now() + 60_000;
    vi.spyOn(Date, 'now').mockReturnValue(later);
    let done = false;
    await whileLeased('x', 'alive', () => Promise.resolve(void (done = true)));
    expect(done).toBe(true);
    never?.();
  });
});
