// A form is answered once, in every way in which the sending of its edit can go.
import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { Edit } from '@/shared/api/client';
import { Asked } from './asked';
import { rowsOfBook } from './database';
import { freshDevice } from './device.fixture';
import { Outbox } from './outbox';
import type { Outcome } from './rows';

const edit: Edit = { type: 'rename_run', run: 'r', name: 'wet' };

beforeEach(() => void freshDevice());

/** A form's edit in an outbox whose server answers so. */
function send(answer: () => Outcome<string> | Promise<Outcome<string>>) {
  const outbox = new Outbox<string>(1, 7, { post: async () => [await answer()], onKept: () => undefined, onRefused: () => undefined });
  const asked = new Asked((id) => outbox.leave(id));
  outbox.subscribe(() => asked.look(outbox.read()));
  const answers: string[] = [];
  const askNoMore = asked.ask(outbox.add(edit), (why) => answers.push(why));
  asked.look(outbox.read());
  return { outbox, answers, askNoMore, onDevice: () => rowsOfBook(1, 7) };
}

const refused = (theirs: string | null): Outcome<string> => ({ kind: 'refused', code: 'name_taken', words: 'There is one.', theirs });

describe('a form that has sent an edit', () => {
  it('is answered with nothing once it is kept, and not before', async () => {
    let keep: (() => void) | undefined;
    const form = send(() => new Promise((then) => (keep = () => then({ kind: 'kept', answer: '' }))));
    await vi.waitFor(() => expect(keep).toBeDefined());
    expect(form.answers).toEqual([]);
    keep?.();
    await vi.waitFor(() => expect(form.answers).toEqual(['']));
    expect(form.outbox.read().rows).toEqual([]);
  });

  it('has the reason and the only copy of what was refused', async () => {
    const form = send(() => refused(null));
    await vi.waitFor(() => expect(form.answers).toEqual(['There is one.']));
    expect(form.outbox.read().rows).toEqual([]);
    await form.outbox.send();
    await vi.waitFor(async () => expect(await form.onDevice()).toEqual([]));
    expect(form.answers).toHaveLength(1);
  });

  it('leaves to the outbox what somebody else wrote over, and what waits for the server', async () => {
    const clash = send(() => refused('dry'));
    await vi.waitFor(() => expect(clash.answers).toEqual(['']));
    expect(clash.outbox.read().rows).toMatchObject([{ state: 'refused', theirs: 'dry' }]);
    clash.outbox.leave(clash.outbox.read().rows[0]?.id ?? '');
    const away = send(() => ({ kind: 'later', why: 'unreachable', words: '', after: 60_000 }));
    await vi.waitFor(() => expect(away.answers).toEqual(['']));
    expect(away.outbox.read().rows).toMatchObject([{ state: 'waiting' }]);
    away.outbox.close();
  });

  it('that was left is not asked, and what is refused stays in sight', async () => {
    const form = send(() => refused(null));
    form.askNoMore();
    await vi.waitFor(() => expect(form.outbox.read().rows).toMatchObject([{ state: 'refused' }]));
    expect(form.answers).toEqual([]);
    await vi.waitFor(async () => expect(await form.onDevice()).toMatchObject([{ state: 'refused' }]));
  });
});
