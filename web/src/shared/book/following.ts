// What follows from the lab book as the server has it: asked for one request at a time, and of what has changed only. See decision 22.
import { replaceEqualDeep } from '@tanstack/react-query';
import { type BookState, type Schemas, Unreachable } from '@/shared/api/client';
import type { OutboxView } from '@/shared/queue/ports';
import { type Landed, type Snapshot, shown } from './snapshot';
import { askView, layOver } from './view';

/** After so long all that follows is asked for, also while somebody writes. */
const LONGEST_BEHIND = 10_000;

export interface Wanted {
  /** What this person can take back too: not for one whose own edit has just been answered. */
  steps?: boolean;
  /** No less than all that follows. */
  whole?: boolean;
}

/** The page that follows. */
export interface Follower {
  read: () => Snapshot;
  set: (part: Partial<Snapshot>) => void;
  outbox: () => OutboxView;
  isClosed: () => boolean;
  /** Where the person is, where that has not been said lately. */
  place: () => string | undefined;
  /** A view is laid; it says what else there is, too. */
  laid: (answer: Schemas['ViewAnswer']) => void;
}

type Steps = Pick<BookState, 'undo' | 'redo'>;

export class Following {
  /** Edits that the server has kept and of which what follows is not here yet. */
  landed: readonly Landed[] = [];
  private tag: string;
  /** What this person can take back and do again, as it was last heard. */
  private steps: Steps;
  /** The newest revision that the server is known to have. */
  private newest: number;
  private asking: Promise<void> | null = null;
  private onlyTable = false;
  /** When the views began to hold only the table; 0 while they hold all. */
  private behindSince = 0;

  constructor(
    state: BookState,
    private readonly page: Follower,
  ) {
    this.tag = state.tag;
    this.steps = { undo: state.undo, redo: state.redo };
    this.newest = state.revision;
  }

  expect(revision: number): void {
    this.newest = Math.max(this.newest, revision);
  }

  /** The server has kept an edit. */
  land(landed: Landed, steps: Steps): void {
    this.landed = [...this.landed, landed];
    this.steps = steps;
    this.expect(landed.revision);
  }

  /** A step has been taken back, or done again. */
  stepped({ undo, redo, revision }: Steps & { revision: number }): Promise<void> {
    this.steps = { undo, redo };
    this.expect(revision);
    return this.follow();
  }

  showOnlyTable(only: boolean): void {
    this.onlyTable = only;
    if (!only && !this.page.read().state.complete) void this.follow({ whole: true });
  }

  /** Ask for what follows from the lab book as it is now. Whoever asks while an answer is on its way gets the one after it too. */
  follow(wanted: Wanted = {}): Promise<void> {
    const before = this.asking;
    const next = (before ? before.then(() => this.askOnce(wanted)) : this.askOnce(wanted)).finally(() => {
      if (this.asking === next) this.asking = null;
    });
    this.asking = next;
    return next;
  }

  private async askOnce({ steps = false, whole = false }: Wanted): Promise<void> {
    const { state, run } = this.page.read();
    if (this.page.isClosed() || (!steps && !whole && state.revision >= this.newest)) return;
    try {
      const table = this.onlyTable && !whole;
      this.lay(await askView(state.id, { run, have: this.tag, steps, table, place: this.page.place() }), run);
    } catch (trouble) {
      this.notHeard(trouble);
    }
  }

  private lay(answer: Schemas['ViewAnswer'], asked: string): void {
    const { state, run } = this.page.read();
    if (answer.revision < state.revision) return;
    let next = state;
    if (answer.whole) next = replaceEqualDeep(state, { ...state, ...answer.whole });
    else if (answer.since === this.tag && answer.changes) next = layOver(state, answer.changes);
    else return;
    this.tag = answer.tag;
    this.expect(answer.revision);
    this.landed = this.landed.filter((l) => l.revision > answer.revision);
    if (answer.undo !== null && answer.redo !== null) this.steps = { undo: answer.undo, redo: answer.redo };
    const first = next.document.runs[0]?.id ?? '';
    this.page.set({
      state: { ...next, ...this.steps, revision: answer.revision },
      // where the run is gone, the first is seen instead
      run: asked === run ? first : run,
      reachable: true,
      ...shown(this.page.outbox(), this.landed),
    });
    this.page.laid(answer);
    if (next.complete) this.behindSince = 0;
    else if (!this.behindSince) this.behindSince = Date.now();
    else if (Date.now() - this.behindSince > LONGEST_BEHIND) void this.follow({ whole: true });
  }

  notHeard(trouble: unknown): void {
    const state = { ...this.page.read().state, ...this.steps };
    if (trouble instanceof Unreachable) this.page.set({ state, reachable: false });
    else this.page.set({ state, message: trouble instanceof Error ? trouble.message : '' });
  }
}
