// One lab book in the browser: the newest state from the server, and the edits that are still on their way.
//
// Edits go through the outbox, which keeps them on the device until the server has kept them. What follows from them is asked for when
// nothing is on its way any more: one request at a time, and of what has changed only. See decision 22.
import { v4 as newUuid } from 'uuid';
import { type BookState, type Edit, Refusal, type Schemas, client, get } from '@/shared/api/client';
import { runKey } from '@/shared/api/early';
import { type Answered, Asked } from '@/shared/queue/asked';
import { type BookOutbox, outboxOf, quietPorts } from '@/shared/queue/outboxes';
import { postEdits } from '@/shared/queue/posting';
import { isAsked } from '@/shared/queue/rows';
import { type AtHand, readAtHand, writeAtHand } from './atHand';
import { Following } from './following';
import { Listening } from './listening';
import { type Snapshot, shown } from './snapshot';

/** What a page needs of an open lab book, whoever keeps it. */
export type OpenStore = Pick<BookStore, keyof BookStore>;

export class BookStore {
  private snapshot: Snapshot;
  private listeners = new Set<() => void>();
  private readonly outbox: BookOutbox;
  private readonly asked = new Asked((id) => this.outbox.leave(id));
  private readonly listening: Listening;
  private readonly following: Following;
  private place = '';
  private closed = false;

  constructor(
    state: BookState,
    private readonly person: number,
  ) {
    this.outbox = outboxOf(person, state.id);
    this.listening = new Listening({
      read: this.read,
      set: (part) => this.set(part),
      place: () => this.place,
      expect: (revision) => this.following.expect(revision),
      follow: (wanted) => this.following.follow(wanted),
      notHeard: (trouble) => this.following.notHeard(trouble),
    });
    this.following = new Following(state, {
      read: this.read,
      set: (part) => this.set(part),
      outbox: () => this.outbox.read(),
      isClosed: () => this.closed,
      place: () => (this.listening.hasHeardLately() ? undefined : this.place),
      laid: (answer) => {
        // a view says what a poll would
        this.listening.soon();
        if (answer.present && answer.news !== null) void this.listening.hear(answer.news, answer.present);
      },
    });
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
      this.listening.soon(0);
    };
    this.outbox.ports = {
      post: (rows) => postEdits(rows, this.place),
      onKept: ({ id, edit }, { revision, undo, redo }) => {
        this.following.land({ id, edit, revision }, { undo, redo });
        // the last of them need not wait until it is taken off the device; nothing is drawn before what follows from it is here
        if (!this.outbox.read().rows.some((r) => r.state === 'waiting' && r.id !== id)) void this.following.follow();
      },
      onRefused: (row) => {
        // a clash is asked about where it happened, a heading says it beneath itself, and a form has it no more in the outbox
        const parked = this.outbox.read().rows.some((r) => r.id === row.id);
        if (parked && !isAsked(row) && row.edit.type !== 'write_heading') this.set({ message: row.words });
        void this.following.follow({ steps: true });
      },
    };
    const look = () => {
      const before = this.snapshot.unsent;
      this.asked.look(this.outbox.read());
      this.set(shown(this.outbox.read(), this.following.landed));
      // another tab may have sent them
      if (before && !this.snapshot.unsent && !this.following.landed.length) void this.following.follow({ steps: true });
    };
    const leave = this.outbox.subscribe(look);
    look();
    void this.outbox.send();
    window.addEventListener('online', soon);
    document.addEventListener('visibilitychange', soon);
    const end = this.listening.begin();
    return () => {
      this.closed = true;
      leave();
      this.outbox.ports = quietPorts();
      end();
      window.removeEventListener('online', soon);
      document.removeEventListener('visibilitychange', soon);
    };
  }

  /** Whether the page shows no more of the lab book than its table: then what lies behind that can wait until nobody writes. */
  showOnlyTable(only: boolean): void {
    this.following.showOnlyTable(only);
  }

  /** The cell that somebody was in last; empty for none. */
  whereLast(): string {
    return this.place;
  }

  /** Where this person is, for the others at the bench. */
  setPlace(place: string): void {
    this.place = place;
  }

  edit(edit: Edit, undoable = ''): void {
    this.set({ message: '', offers: [], ...(undoable ? { undoable: { words: undoable, turn: Date.now() } } : {}) });
    this.outbox.add(edit);
  }

  /** Edit by a form that stays open until it is answered. Returns how to ask no more. */
  submit(edit: Edit, answered: Answered): () => void {
    this.set({ message: '', offers: [] });
    const askNoMore = this.asked.ask(this.outbox.add(edit), answered);
    this.asked.look(this.outbox.read());
    return askNoMore;
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
      this.set({ undoable: null, message: '', offers: [] });
      await this.following.stepped(progress);
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
    await this.following.follow({ steps: true });
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
    this.listening.soon(0);
  }

  private set(part: Partial<Snapshot>): void {
    this.snapshot = { ...this.snapshot, ...part };
    for (const listener of this.listeners) listener();
  }
}
