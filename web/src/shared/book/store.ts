// One lab book in the browser: the newest state from the server, and the edits that are still on their way.
//
// Edits go through the outbox, which keeps them on the device until the server has kept them.
import { replaceEqualDeep } from '@tanstack/react-query';
import { v4 as newUuid } from 'uuid';
import { type BookState, type Edit, type Schemas, Unreachable, client, get } from '@/shared/api/client';
import type { OutboxView } from '@/shared/queue/outbox';
import { type BookOutbox, outboxOf, quietPorts } from '@/shared/queue/outboxes';
import { postEdit } from '@/shared/queue/posting';
import { type QueueRow, staysInSight } from '@/shared/queue/rows';

/** An edit that the server has not kept yet, and is laid over what it has. */
export type Waiting = Pick<QueueRow, 'id' | 'edit'>;

export interface Clash {
  id: string;
  edit: Extract<Edit, { type: 'set_reading' | 'write_text' }>;
  theirs: string;
}

export interface Snapshot {
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
  /** Bumped when somebody asks to go to a cell. */
  goTo: { cell: string; turn: number } | null;
  /** Numbers that were picked on graphs and fits, for a finding to be made of. */
  collected: readonly Schemas['IngredientIn'][];
  /** A finding that was being written when its page was left. */
  draft: Schemas['FindingIn'] | null;
  /** What the last destructive act was, for the bar that offers to take it back. */
  undoable: { words: string; turn: number } | null;
}

export function runKey(book: number): string {
  return `hobrel:run:${book}`;
}

const FOLLOW_EVERY = 1400;
const HIDDEN_EVERY = 10_000;
const RETRY_EVERY = 2000;

export class BookStore {
  private snapshot: Snapshot;
  private listeners = new Set<() => void>();
  private readonly outbox: BookOutbox;
  private timer: number | undefined;
  private place = '';
  private closed = false;

  constructor(state: BookState, person: number) {
    this.outbox = outboxOf(person, state.id);
    this.snapshot = {
      state,
      run: state.document.runs[0]?.id ?? '',
      ...shown(this.outbox.read()),
      reachable: true,
      message: '',
      goTo: null,
      collected: [],
      draft: null,
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
      post: (row) => postEdit(row, this.snapshot.run),
      onKept: (work) => this.take(work),
      onRefused: (row) => {
        // a clash is asked about where it happened
        if (!clashOf(row)) this.set({ message: row.words });
        void this.follow();
      },
    };
    const look = () => this.set(shown(this.outbox.read()));
    const leave = this.outbox.subscribe(look);
    look();
    void this.outbox.send();
    window.addEventListener('online', soon);
    document.addEventListener('visibilitychange', soon);
    this.schedule(FOLLOW_EVERY);
    return () => {
      this.closed = true;
      leave();
      this.outbox.ports = quietPorts();
      window.clearTimeout(this.timer);
      window.removeEventListener('online', soon);
      document.removeEventListener('visibilitychange', soon);
    };
  }

  /** Where this person is, for the others at the bench. */
  setPlace(place: string): void {
    this.place = place;
  }

  edit(edit: Edit, undoable = ''): void {
    this.set({ message: '', ...(undoable ? { undoable: { words: undoable, turn: Date.now() } } : {}) });
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
    const body = { client_id: newUuid() };
    const params = { path: { book_id: this.snapshot.state.id }, query: { run: this.snapshot.run } };
    try {
      const sent = which === 'undo' ? client.POST('/api/books/{book_id}/undo', { params, body }) : client.POST('/api/books/{book_id}/redo', { params, body });
      this.take(await get(sent as Promise<{ data?: Schemas['BookWork']; error?: unknown; response: Response }>));
      this.set({ undoable: null, message: '' });
    } catch (trouble) {
      this.set({ message: trouble instanceof Error ? trouble.message : '' });
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
    const params = { path: { book_id: this.snapshot.state.id }, query: { run } };
    try {
      this.take(await get(client.GET('/api/books/{book_id}', { params })));
    } catch (trouble) {
      this.set({ message: trouble instanceof Error ? trouble.message : '' });
    }
  }

  goTo(cell: string): void {
    this.set({ goTo: { cell, turn: Date.now() } });
  }

  /** Keep a number at hand for a finding. */
  collect(ingredient: Schemas['IngredientIn']): void {
    this.set({ collected: [...this.snapshot.collected, ingredient] });
  }

  keepDraft(draft: Schemas['FindingIn']): void {
    this.set({ collected: [], draft });
  }

  /** The finding is written, or nobody wants it any more. */
  endDraft(): void {
    this.set({ collected: [], draft: null });
  }

  settleClash(mine: boolean): void {
    const clash = this.snapshot.clash;
    if (clash && mine) this.retry(clash.id);
    else if (clash) this.leave(clash.id);
  }

  dismiss(what: 'message' | 'undoable'): void {
    this.set(what === 'message' ? { message: '' } : { undoable: null });
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

  private take(news: BookState | Schemas['BookWork']): void {
    const first = news.document.runs[0]?.id ?? '';
    // an answer that was asked for before another run was chosen is late
    if (first !== this.snapshot.run && news.run_order.includes(this.snapshot.run)) return;
    const before = this.snapshot.state;
    // what has not changed stays the same object, so that only what has changed is drawn anew
    if (news.revision >= before.revision) this.set({ state: replaceEqualDeep(before, { ...before, ...news }), run: first, reachable: true });
  }

  private schedule(delay: number): void {
    window.clearTimeout(this.timer);
    if (!this.closed) this.timer = window.setTimeout(() => void this.turn(), delay);
  }

  private async turn(): Promise<void> {
    await this.follow();
    const pause = !this.snapshot.reachable ? RETRY_EVERY : document.hidden ? HIDDEN_EVERY : FOLLOW_EVERY;
    this.schedule(pause);
  }

  private async follow(): Promise<void> {
    const { state } = this.snapshot;
    const params = { path: { book_id: state.id }, query: { since: this.known(), place: this.place, run: this.snapshot.run } };
    try {
      const news = await get(client.GET('/api/books/{book_id}/changes', { params }));
      if (news.state) this.take(news.state);
      else if (!this.same(news)) {
        const { present, remarks, pool_open } = news;
        this.set({ state: { ...this.snapshot.state, present, remarks, pool_open }, reachable: true });
      } else if (!this.snapshot.reachable) this.set({ reachable: true });
    } catch (trouble) {
      if (trouble instanceof Unreachable) this.set({ reachable: false });
      else this.set({ message: trouble instanceof Error ? trouble.message : '' });
    }
  }

  /** The revision that is known with its numbers; none where these could not be worked out yet, and are to be asked for again. */
  private known(): number {
    const { revision, analysis } = this.snapshot.state;
    return analysis.trouble?.code === 'not_worked_out' ? -1 : revision;
  }

  private same(news: Schemas['BookChanges']): boolean {
    const { present, remarks, pool_open } = this.snapshot.state;
    return JSON.stringify({ present, remarks, pool_open }) === JSON.stringify({ present: news.present, remarks: news.remarks, pool_open: news.pool_open });
  }
}

function shown(view: OutboxView): Pick<Snapshot, 'waiting' | 'unsent' | 'refused' | 'clash' | 'held' | 'onlyHere'> {
  const refused = view.rows.filter((r) => r.state === 'refused');
  return {
    waiting: view.rows.filter(staysInSight),
    unsent: view.rows.length - refused.length,
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
