// One lab book in the browser: the newest state from the server, and the edits that are still on their way.
//
// Edits are sent one by one in the order they were made. Until the server has answered they are kept on the device, so that
// a reload, or a network that goes away, loses nothing; each carries an id of its own, so that sending twice does it once.
import { replaceEqualDeep } from '@tanstack/react-query';
import { type BookState, type Edit, Refusal, type Schemas, Unreachable, client, get } from '@/shared/api/client';

export interface Waiting {
  id: string;
  edit: Edit;
}

export interface Clash {
  edit: Extract<Edit, { type: 'set_reading' | 'write_text' }>;
  theirs: string;
}

export interface Snapshot {
  state: BookState;
  /** The run that the lab book is seen from; its readings, graphs and findings are shown. */
  run: string;
  waiting: readonly Waiting[];
  reachable: boolean;
  clash: Clash | null;
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

function storageKey(book: number): string {
  return `hobrel:waiting:${book}`;
}

function readWaiting(book: number): Waiting[] {
  try {
    return JSON.parse(localStorage.getItem(storageKey(book)) ?? '[]') as Waiting[];
  } catch {
    return []; // somebody else's text under our key: nothing of ours is in it
  }
}

export class BookStore {
  private snapshot: Snapshot;
  private listeners = new Set<() => void>();
  private sending: Promise<void> | null = null;
  private timer: number | undefined;
  private place = '';
  private closed = false;

  constructor(state: BookState) {
    this.snapshot = { state, run: state.document.runs[0]?.id ?? '', waiting: readWaiting(state.id), reachable: true, clash: null, message: '', goTo: null, collected: [], draft: null, undoable: null };
  }

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  read = (): Snapshot => this.snapshot;

  open(): () => void {
    this.closed = false;
    const soon = () => this.schedule(0);
    window.addEventListener('online', soon);
    document.addEventListener('visibilitychange', soon);
    this.schedule(this.snapshot.waiting.length ? 0 : FOLLOW_EVERY);
    return () => {
      this.closed = true;
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
    this.set({
      waiting: [...this.snapshot.waiting, { id: crypto.randomUUID(), edit }],
      message: '',
      ...(undoable ? { undoable: { words: undoable, turn: Date.now() } } : {}),
    });
    this.keep();
    void this.send();
  }

  async step(which: 'undo' | 'redo'): Promise<void> {
    await this.send();
    const body = { client_id: crypto.randomUUID() };
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
    return this.send();
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
    this.set({ clash: null });
    if (clash && mine) this.edit({ ...clash.edit, was: clash.theirs });
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

  private keep(): void {
    const { state, waiting } = this.snapshot;
    if (waiting.length) localStorage.setItem(storageKey(state.id), JSON.stringify(waiting));
    else localStorage.removeItem(storageKey(state.id));
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
    if (this.snapshot.waiting.length) await this.send();
    else await this.follow();
    const pause = !this.snapshot.reachable ? RETRY_EVERY : document.hidden ? HIDDEN_EVERY : FOLLOW_EVERY;
    this.schedule(pause);
  }

  private async follow(): Promise<void> {
    const { state } = this.snapshot;
    const params = { path: { book_id: state.id }, query: { since: state.revision, place: this.place, run: this.snapshot.run } };
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

  private same(news: Schemas['BookChanges']): boolean {
    const { present, remarks, pool_open } = this.snapshot.state;
    return JSON.stringify({ present, remarks, pool_open }) === JSON.stringify({ present: news.present, remarks: news.remarks, pool_open: news.pool_open });
  }

  private send(): Promise<void> {
    this.sending ??= this.sendAll().finally(() => {
      this.sending = null;
    });
    return this.sending;
  }

  private async sendAll(): Promise<void> {
    for (let next = this.snapshot.waiting[0]; next; next = this.snapshot.waiting[0]) {
      if (!(await this.sendOne(next))) break;
    }
  }

  /** Send one edit; false when the server cannot be reached and it must wait. */
  private async sendOne(next: Waiting): Promise<boolean> {
    const params = { path: { book_id: this.snapshot.state.id }, query: { run: this.snapshot.run } };
    const done = () => {
      this.set({ waiting: this.snapshot.waiting.filter((w) => w.id !== next.id) });
      this.keep();
    };
    try {
      const sent = client.POST('/api/books/{book_id}/edits', { params, body: { client_id: next.id, edit: next.edit } });
      this.take(await get(sent as Promise<{ data?: Schemas['BookWork']; error?: unknown; response: Response }>));
      done();
    } catch (trouble) {
      if (trouble instanceof Unreachable) {
        this.set({ reachable: false });
        this.schedule(RETRY_EVERY);
        return false;
      }
      if (trouble instanceof Refusal && trouble.code === 'signed_out') {
        this.set({ message: trouble.message });
        return false;
      }
      done();
      if (trouble instanceof Refusal && trouble.code === 'clash' && (next.edit.type === 'set_reading' || next.edit.type === 'write_text')) {
        this.set({ clash: { edit: next.edit, theirs: trouble.theirs ?? '' } });
      } else {
        this.set({ message: trouble instanceof Error ? trouble.message : '' });
      }
      await this.follow();
    }
    return true;
  }
}
