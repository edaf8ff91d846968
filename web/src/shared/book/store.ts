// One lab book in the browser: the newest state from the server, and the edits that are still on their way.
//
// Edits go through the outbox, which keeps them on the device until the server has kept them. What follows from them is asked for when
// nothing is on its way any more: one request at a time, and of what has changed only. See decision 22.
import { replaceEqualDeep } from '@tanstack/react-query';
import { v4 as newUuid } from 'uuid';
import { type BookState, type Edit, Refusal, type Schemas, Unreachable, client, get } from '@/shared/api/client';
import { runKey } from '@/shared/api/early';
import type { OutboxView } from '@/shared/queue/outbox';
import { type BookOutbox, outboxOf, quietPorts } from '@/shared/queue/outboxes';
import { postEdits } from '@/shared/queue/posting';
import { type QueueRow, staysInSight } from '@/shared/queue/rows';
import { type AtHand, readAtHand, writeAtHand } from './atHand';
import { askView, layOver } from './view';

/** An edit that is laid over the lab book as it is known: the server has not kept it yet, or what follows from it is not here. */
export type Waiting = Pick<QueueRow, 'id' | 'edit'>;

interface Landed extends Waiting {
  /** The revision that the server has kept it as. */
  revision: number;
}

export interface Clash {
  id: string;
  edit: Extract<Edit, { type: 'set_reading' | 'write_text' }>;
  theirs: string;
}

export interface Snapshot extends AtHand {
  state: BookState;
  /** The run that the lab book is seen from; its readings, graphs and findings are shown. */
  run: string;
  waiting: readonly Waiting[];
  /** How many of them are still to be sent; the others were refused, and stay in sight. */
  unsent: number;
  /** What the server would not keep, until somebody decides. */
  refused: readonly QueueRow[];
  /** The first of them that somebody else has written in the place of. */
  clash: Clash | null;
  held: OutboxView['held'];
  /** What is typed is only in this page: the device has no room, or gives none. */
  onlyHere: boolean;
  reachable: boolean;
  message: string;
  /** With the message: edits that may be wanted instead. */
  offers: readonly Schemas['OfferOut'][];
  /** Bumped when somebody asks to go to a cell. */
  goTo: { cell: string; turn: number } | null;
  /** What the last destructive act was, for the bar that offers to take it back. */
  undoable: { words: string; turn: number } | null;
}

const POLL_EVERY = 2000;
const IDLE_EVERY = 5000;
const HIDDEN_EVERY = 10_000;
/** Nobody has touched the page, and nothing new has come, for so long. */
const IDLE_AFTER = 20_000;
/** After so long all that follows is asked for, also while somebody writes. */
const LONGEST_BEHIND = 10_000;
/** What a poll would say has been heard so lately that a view need not say it too. */
const HEARD_LATELY = 1200;

interface Wanted {
  /** What this person can take back too: not for one whose own edit has just been answered. */
  steps?: boolean;
  /** No less than all that follows. */
  whole?: boolean;
}

/** What a page needs of an open lab book, whoever keeps it. */
export type OpenStore = Pick<BookStore, keyof BookStore>;

export class BookStore {
  private snapshot: Snapshot;
  private listeners = new Set<() => void>();
  private readonly outbox: BookOutbox;
  private timer: number | undefined;
  private place = '';
  private closed = false;
  private onlyTable = false;
  /** When the views began to hold only the table; 0 while they hold all. */
  private behindSince = 0;
  /** When the server last said what else there is, and who is here. */
  private heard = 0;
  private tag: string;
  /** What this person can take back and do again, as it was last heard. */
  private steps: Pick<BookState, 'undo' | 'redo'>;
  private landed: Landed[] = [];
  /** The newest revision that the server is known to have. */
  private newest: number;
  private following: Promise<void> | null = null;
  private lastLife = Date.now();

  constructor(
    state: BookState,
    private readonly person: number,
  ) {
    this.outbox = outboxOf(person, state.id);
    this.tag = state.tag;
    this.steps = { undo: state.undo, redo: state.redo };
    this.newest = state.revision;
    this.snapshot = {
      state,
      run: state.document.runs[0]?.id ?? '',
      ...shown(this.outbox.read(), []),
      reachable: true,
      message: '',
      offers: [],
      goTo: null,
      ...readAtHand(person, state.id),
      undoable: null,
    };
  }

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  read = (): Snapshot => this.snapshot;

  open(): () => void {
    this.closed = false;
    const soon = () => {
      void this.outbox.send();
      this.schedule(0);
    };
    this.outbox.ports = {
      post: (rows) => postEdits(rows, this.place),
      onKept: ({ id, edit }, { revision, undo, redo }) => {
        this.landed = [...this.landed, { id, edit, revision }];
        this.steps = { undo, redo };
        this.expect(revision);
        // the last of them need not wait until it is taken off the device; nothing is drawn before what follows from it is here
        if (!this.outbox.read().rows.some((r) => r.state === 'waiting' && r.id !== id)) void this.follow();
      },
      onRefused: (row) => {
        // a clash is asked about where it happened, and a heading says it beneath itself
        if (!clashOf(row) && row.edit.type !== 'write_heading') this.set({ message: row.words });
        void this.follow({ steps: true });
      },
    };
    const look = () => {
      const before = this.snapshot.unsent;
      this.set(shown(this.outbox.read(), this.landed));
      // another tab may have sent them
      if (before && !this.snapshot.unsent && !this.landed.length) void this.follow({ steps: true });
    };
    const touched = () => {
      const idle = this.isIdle();
      this.lastLife = Date.now();
      if (idle) this.schedule(0);
    };
    const leave = this.outbox.subscribe(look);
    look();
    void this.outbox.send();
    window.addEventListener('online', soon);
    document.addEventListener('visibilitychange', soon);
    document.addEventListener('keydown', touched, true);
    document.addEventListener('pointerdown', touched, true);
    this.schedule(POLL_EVERY);
    return () => {
      this.closed = true;
      leave();
      this.outbox.ports = quietPorts();
      window.clearTimeout(this.timer);
      window.removeEventListener('online', soon);
      document.removeEventListener('visibilitychange', soon);
      document.removeEventListener('keydown', touched, true);
      document.removeEventListener('pointerdown', touched, true);
    };
  }

  /** Whether the page shows no more of the lab book than its table: then what lies behind that can wait until nobody writes. */
  showOnlyTable(only: boolean): void {
    this.onlyTable = only;
    if (!only && !this.snapshot.state.complete) void this.follow({ whole: true });
  }

  /** Where this person is, for the others at the bench. */
  setPlace(place: string): void {
    this.place = place;
  }

  edit(edit: Edit, undoable = ''): void {
    this.set({ message: '', offers: [], ...(undoable ? { undoable: { words: undoable, turn: Date.now() } } : {}) });
    this.outbox.add(edit);
  }

  /** Try again what was refused; of a clash, in the place of theirs. */
  retry(id: string): void {
    this.outbox.retry(id);
  }

  /** Let go of what was refused. */
  leave(id: string): void {
    this.outbox.leave(id);
  }

  async step(which: 'undo' | 'redo'): Promise<void> {
    await this.outbox.send();
    const sent = { params: { path: { book_id: this.snapshot.state.id } }, body: { client_id: newUuid() } };
    try {
      const progress = await get(which === 'undo' ? client.POST('/api/books/{book_id}/undo', sent) : client.POST('/api/books/{book_id}/redo', sent));
      this.steps = { undo: progress.undo, redo: progress.redo };
      this.set({ undoable: null, message: '', offers: [] });
      this.expect(progress.revision);
      await this.follow();
    } catch (trouble) {
      this.set({ message: trouble instanceof Error ? trouble.message : '', offers: trouble instanceof Refusal ? trouble.offers : [] });
    }
  }

  /** Resolves when nothing is on its way any more, or the server cannot be reached. */
  whenSaved(): Promise<void> {
    return this.outbox.send();
  }

  /** See the lab book from another run. */
  async chooseRun(run: string): Promise<void> {
    localStorage.setItem(runKey(this.snapshot.state.id), run);
    this.set({ run });
    await this.follow({ steps: true });
  }

  goTo(cell: string): void {
    this.set({ goTo: { cell, turn: Date.now() } });
  }

  /** Keep a number at hand for a finding. */
  collect(ingredient: Schemas['IngredientIn']): void {
    this.keepAtHand({ collected: [...this.snapshot.collected, ingredient], draft: this.snapshot.draft });
  }

  keepDraft(draft: Schemas['FindingIn']): void {
    this.keepAtHand({ collected: [], draft });
  }

  private keepAtHand(atHand: AtHand): void {
    writeAtHand(this.person, this.snapshot.state.id, atHand);
    this.set(atHand);
  }

  /** The finding is written, or nobody wants it any more. */
  endDraft(): void {
    this.keepAtHand({ collected: [], draft: null });
  }

  settleClash(mine: boolean): void {
    const clash = this.snapshot.clash;
    if (clash && mine) this.retry(clash.id);
    else if (clash) this.leave(clash.id);
  }

  dismiss(what: 'message' | 'undoable'): void {
    this.set(what === 'message' ? { message: '', offers: [] } : { undoable: null });
  }

  setRemarks(remarks: Schemas['RemarkOut'][]): void {
    this.set({ state: { ...this.snapshot.state, remarks } });
  }

  setHandIns(handIns: Schemas['HandInOut'][]): void {
    this.set({ state: { ...this.snapshot.state, hand_ins: handIns } });
    this.schedule(0);
  }

  private set(part: Partial<Snapshot>): void {
    this.snapshot = { ...this.snapshot, ...part };
    for (const listener of this.listeners) listener();
  }

  private expect(revision: number): void {
    this.newest = Math.max(this.newest, revision);
  }

  /** Ask for what follows from the lab book as it is now. Whoever asks while an answer is on its way gets the one after it too. */
  private follow(wanted: Wanted = {}): Promise<void> {
    const before = this.following;
    const next = (before ? before.then(() => this.askOnce(wanted)) : this.askOnce(wanted)).finally(() => {
      if (this.following === next) this.following = null;
    });
    this.following = next;
    return next;
  }

  private async askOnce({ steps = false, whole = false }: Wanted): Promise<void> {
    const { state, run } = this.snapshot;
    if (this.closed || (!steps && !whole && state.revision >= this.newest)) return;
    try {
      const table = this.onlyTable && !whole;
      const place = Date.now() - this.heard > HEARD_LATELY ? this.place : undefined;
      this.lay(await askView(state.id, { run, have: this.tag, steps, table, place }), run);
    } catch (trouble) {
      this.notHeard(trouble);
    }
  }

  private lay(answer: Schemas['ViewAnswer'], asked: string): void {
    const { state, run } = this.snapshot;
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
    this.set({
      state: { ...next, ...this.steps, revision: answer.revision },
      // where the run is gone, the first is seen instead
      run: asked === run ? first : run,
      reachable: true,
      ...shown(this.outbox.read(), this.landed),
    });
    // a view says what a poll would
    this.schedule(POLL_EVERY);
    if (answer.present && answer.news !== null) void this.hear(answer.news, answer.present);
    if (next.complete) this.behindSince = 0;
    else if (!this.behindSince) this.behindSince = Date.now();
    else if (Date.now() - this.behindSince > LONGEST_BEHIND) void this.follow({ whole: true });
  }

  private schedule(delay: number): void {
    window.clearTimeout(this.timer);
    if (!this.closed) this.timer = window.setTimeout(() => void this.turn(), delay);
  }

  private isIdle(): boolean {
    return Date.now() - this.lastLife > IDLE_AFTER;
  }

  private async turn(): Promise<void> {
    await this.poll();
    const pause = !this.snapshot.reachable ? POLL_EVERY : document.hidden ? HIDDEN_EVERY : this.isIdle() ? IDLE_EVERY : POLL_EVERY;
    this.schedule(pause);
  }

  /** Ask whether there is something new, and say where this person is. */
  private async poll(): Promise<void> {
    const { state } = this.snapshot;
    try {
      const news = await get(client.GET('/api/books/{book_id}/changes', { params: { path: { book_id: state.id }, query: { place: this.place } } }));
      this.expect(news.revision);
      await this.hear(news.news, news.present);
      const { state: now } = this.snapshot;
      if (news.revision > now.revision) {
        this.lastLife = Date.now();
        await this.follow({ steps: true });
      } else if (this.lacksNumbers() || !now.complete) {
        // nobody has written since the last view
        await this.follow({ whole: true });
      }
    } catch (trouble) {
      this.notHeard(trouble);
    }
  }

  /** Take in what is new beside the readings, and who else is here. */
  private async hear(news: number, present: Schemas['PresentOut'][]): Promise<void> {
    this.heard = Date.now();
    const { state, reachable } = this.snapshot;
    if (!reachable || JSON.stringify(state.present) !== JSON.stringify(present)) this.set({ state: { ...state, present }, reachable: true });
    if (news === state.news) return;
    this.lastLife = Date.now();
    try {
      const beside = await get(client.GET('/api/books/{book_id}/beside', { params: { path: { book_id: state.id } } }));
      this.set({ state: { ...this.snapshot.state, ...beside } });
    } catch (trouble) {
      this.notHeard(trouble);
    }
  }

  private notHeard(trouble: unknown): void {
    const state = { ...this.snapshot.state, ...this.steps };
    if (trouble instanceof Unreachable) this.set({ state, reachable: false });
    else this.set({ state, message: trouble instanceof Error ? trouble.message : '' });
  }

  /** The numbers could not be worked out yet, and are to be asked for again. */
  private lacksNumbers(): boolean {
    return this.snapshot.state.analysis.trouble?.code === 'not_worked_out';
  }
}

type Shown = Pick<Snapshot, 'waiting' | 'unsent' | 'refused' | 'clash' | 'held' | 'onlyHere'>;

function shown(view: OutboxView, landed: readonly Landed[]): Shown {
  const refused = view.rows.filter((r) => r.state === 'refused');
  return {
    waiting: [...landed, ...view.rows.filter(staysInSight)],
    unsent: view.rows.filter((r) => r.state === 'waiting').reduce((n, { edit }) => n + (edit.type === 'batch' ? edit.edits.length : 1), 0),
    refused,
    clash: refused.map(clashOf).find((c) => c !== null) ?? null,
    held: view.held,
    onlyHere: view.onlyHere,
  };
}

function clashOf(row: QueueRow): Clash | null {
  if (row.theirs === null || (row.edit.type !== 'set_reading' && row.edit.type !== 'write_text')) return null;
  return { id: row.id, edit: row.edit, theirs: row.theirs };
}
