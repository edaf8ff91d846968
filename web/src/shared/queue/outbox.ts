// The edits of one person to one lab book that the server has not kept yet, and the sending of them in their order, several at once.
import { v4 as newUuid } from 'uuid';
import type { Edit } from '@/shared/api/client';
import { addRow, deleteRow, putRow, rowsOfBook } from './database';
import { takeLeftBehind, writeLeftBehind } from './leftBehind';
import { alone } from './lock';
import type { OutboxPorts, OutboxView } from './ports';
import { type Outcome, type QueueRow, ROW_VERSION, isAsked, replaces, replacing } from './rows';

const SOONEST = 2000;
const LATEST = 30_000;
const MOST_AT_ONCE = 20;

export class Outbox<A> {
  private view: OutboxView = { rows: [], held: '', heldWords: '', onlyHere: false };
  private readonly listeners = new Set<() => void>();
  private readonly channel: BroadcastChannel;
  private readonly unwritten = new Set<string>();
  private sending: Promise<void> | null = null;
  private again = false;
  private pause = SOONEST;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private writing: Promise<void> = Promise.resolve();
  private closed = false;
  /** The last reading of the rows on the device: nothing is sent before it is done. */
  private reading: Promise<void> = Promise.resolve();
  readonly loaded: Promise<void>;

  constructor(
    readonly person: number,
    readonly book: number,
    /** Set anew by whoever has the lab book open. */
    public ports: OutboxPorts<A>,
  ) {
    this.channel = new BroadcastChannel(`hobrel:queue:${person}:${book}`);
    this.channel.onmessage = () => void this.reload().then(() => this.send());
    this.loaded = this.reload().then(() => {
      this.takeLeftBehind();
      void this.send();
    });
    globalThis.addEventListener('pagehide', this.leaveBehind);
  }

  close(): void {
    this.closed = true;
    clearTimeout(this.timer);
    this.channel.close();
    globalThis.removeEventListener('pagehide', this.leaveBehind);
  }

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  read = (): OutboxView => this.view;

  /** Take an edit in. It is in sight at once, on the device in a moment, and sent meanwhile, after those before it. Its id. */
  add(edit: Edit): string {
    // a text typed over one that was refused replaces what the server has, not what it would not have
    const parked = this.view.rows.find((r) => r.state === 'refused' && replaces(edit, r.edit));
    if (parked && isAsked(parked)) return this.amend(parked, edit);
    const now = parked ? replacing(edit, parked.theirs ?? wasOf(parked.edit)) : edit;
    const row: QueueRow = {
      n: (this.view.rows.at(-1)?.n ?? 0) + 1e-6,
      person: this.person,
      book: this.book,
      id: newUuid(),
      version: ROW_VERSION,
      edit: now,
      state: 'waiting',
      words: '',
      code: '',
      theirs: null,
    };
    this.unwritten.add(row.id);
    this.set({ rows: [...this.view.rows.filter((r) => r !== parked), row] });
    if (parked) this.write(() => deleteRow(parked.n));
    this.write(() => this.keep(row));
    void this.send();
    return row.id;
  }

  /** Somebody is being asked whether theirs or mine: what is typed meanwhile is mine, and no answer. */
  private amend(parked: QueueRow, edit: Edit): string {
    const next: QueueRow = { ...parked, edit: replacing(edit, wasOf(parked.edit)) };
    this.set({ rows: this.view.rows.map((r) => (r === parked ? next : r)) });
    if (!this.unwritten.has(next.id)) this.write(() => putRow(next));
    return next.id;
  }

  /** Try a refused one again; of a clash, in the place of what stands there now. */
  retry(id: string): void {
    const row = this.view.rows.find((r) => r.id === id);
    if (!row) return;
    const next: QueueRow = {
      ...row,
      edit: replacing(row.edit, row.theirs),
      id: newUuid(),
      state: 'waiting',
      words: '',
      code: '',
      theirs: null,
    };
    this.set({ rows: this.view.rows.map((r) => (r === row ? next : r)) });
    this.write(() => putRow(next));
    void this.send();
  }

  /** Let a refused one go. */
  leave(id: string): void {
    const row = this.view.rows.find((r) => r.id === id);
    if (!row) return;
    this.set({ rows: this.view.rows.filter((r) => r !== row) });
    this.write(() => deleteRow(row.n));
  }

  /** Send what waits. Resolves when nothing waits any more or something stands in the way. */
  send(): Promise<void> {
    if (this.closed) return Promise.resolve();
    this.again = true;
    this.sending ??= this.sendWhileAsked().finally(() => {
      this.sending = null;
    });
    return this.sending;
  }

  private async sendWhileAsked(): Promise<void> {
    clearTimeout(this.timer);
    while (this.again && !this.closed) {
      this.again = false;
      if (this.next().length) await alone(`send:${this.person}:${this.book}`, () => this.sendAll());
    }
  }

  /** The page is being left: what the database has not confirmed yet is written where that takes no time. */
  private leaveBehind = (): void => {
    writeLeftBehind(
      this.person,
      this.book,
      this.view.rows.filter((r) => this.unwritten.has(r.id)),
    );
  };

  private takeLeftBehind(): void {
    const known = new Set(this.view.rows.map((r) => r.id));
    for (const row of takeLeftBehind(this.person, this.book).filter((r) => !known.has(r.id))) {
      this.unwritten.add(row.id);
      this.set({ rows: [...this.view.rows, row] });
      this.write(() => this.keep(row));
    }
  }

  private next(): QueueRow[] {
    return this.view.rows.filter((r) => r.state === 'waiting').slice(0, MOST_AT_ONCE);
  }

  private async sendAll(): Promise<void> {
    // another tab may have said that it has sent some of them; one that is sent twice all the same is done once
    await this.reading;
    for (let rows = this.next(); rows.length && !this.closed; rows = this.next()) {
      const outcomes = await this.ports.post(rows);
      for (const [i, outcome] of outcomes.entries()) {
        const row = rows[i];
        if (!row) break;
        if (outcome.kind === 'later') {
          this.hold(outcome);
          return;
        }
        this.pause = SOONEST;
        if (this.view.held) this.set({ held: '', heldWords: '' });
        if (outcome.kind === 'kept') {
          // first whoever shows it, then the row that was laid over what was there, so that no old value shows in between
          this.ports.onKept(row, outcome.answer);
          await this.forget(row);
        } else {
          this.ports.onRefused(await this.park(row, outcome));
        }
      }
    }
  }

  private hold(outcome: Extract<Outcome<A>, { kind: 'later' }>): void {
    this.set({ held: outcome.why, heldWords: outcome.words });
    clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.send(), outcome.after ?? this.pause);
    this.pause = Math.min(2 * this.pause, LATEST);
  }

  private async forget(row: QueueRow): Promise<void> {
    await this.writing;
    this.unwritten.delete(row.id);
    // a page that was left in the middle of writing may have written it twice
    this.write(async () => {
      for (const copy of await rowsOfBook(this.person, this.book)) if (copy.id === row.id) await deleteRow(copy.n);
    });
    await this.writing;
    this.set({ rows: this.view.rows.filter((r) => r.id !== row.id) });
  }

  private async park(row: QueueRow, why: Extract<Outcome<A>, { kind: 'refused' }>): Promise<QueueRow> {
    await this.writing;
    const kept = this.view.rows.find((r) => r.id === row.id) ?? row;
    const parked: QueueRow = { ...kept, state: 'refused', words: why.words, code: why.code, theirs: why.theirs };
    // written first: whoever sees it refused may let it go at once
    if (!this.unwritten.has(row.id)) this.write(() => putRow(parked));
    // typed one after the other without a network: asked about once, with what was typed last
    const before = this.view.rows.filter((r) => r.id !== row.id && isAsked(r) && replaces(parked.edit, r.edit));
    for (const { n } of isAsked(parked) ? before : []) this.write(() => deleteRow(n));
    this.set({ rows: this.view.rows.filter((r) => !isAsked(parked) || !before.includes(r)).map((r) => (r.id === row.id ? parked : r)) });
    await this.writing;
    return parked;
  }

  /** Write a new row on the device; it then has its number. */
  private async keep(row: QueueRow): Promise<void> {
    const n = await addRow(row);
    this.unwritten.delete(row.id);
    this.set({ rows: this.view.rows.map((r) => (r.id === row.id ? { ...r, n } : r)) });
  }

  /** Writes follow one another. One that fails leaves its row in this page, which then says so. */
  private write(work: () => Promise<void>): void {
    this.writing = this.writing.then(work).then(
      () => {
        this.tell();
        if (this.view.onlyHere && this.unwritten.size === 0) this.set({ onlyHere: false });
      },
      () => this.set({ onlyHere: this.unwritten.size > 0 }),
    );
  }

  private tell(): void {
    if (!this.closed) this.channel.postMessage('changed');
  }

  private reload(): Promise<void> {
    this.reading = this.readRows();
    return this.reading;
  }

  private async readRows(): Promise<void> {
    try {
      const all = await rowsOfBook(this.person, this.book);
      const rows = all.filter((r, i) => all.findIndex((other) => other.id === r.id) === i);
      const written = new Set(rows.map((r) => r.id));
      this.set({ rows: [...rows, ...this.view.rows.filter((r) => this.unwritten.has(r.id) && !written.has(r.id))] });
    } catch {
      this.set({ onlyHere: this.unwritten.size > 0 });
    }
  }

  private set(part: Partial<OutboxView>): void {
    this.view = { ...this.view, ...part };
    for (const listener of this.listeners) listener();
  }
}

function wasOf(edit: Edit): string | null {
  return edit.type === 'set_reading' || edit.type === 'write_text' ? edit.was : null;
}
