// Whether there is something new in a lab book, asked now and then: more seldom where nobody is there to see it.
import { type BookState, type Schemas, client, get } from '@/shared/api/client';
import type { Snapshot } from './snapshot';

const POLL_EVERY = 2000;
const IDLE_EVERY = 5000;
const HIDDEN_EVERY = 10_000;
/** Nobody has touched the page, and nothing new has come, for so long. */
const IDLE_AFTER = 20_000;
/** What a poll would say has been heard so lately that a view need not say it too. */
const HEARD_LATELY = 1200;

/** The page that listens. */
export interface Listener {
  read: () => Snapshot;
  set: (part: Partial<Snapshot>) => void;
  /** Where the person is, for the others at the bench. */
  place: () => string;
  /** The server has got so far. */
  expect: (revision: number) => void;
  /** Ask for what follows from that: what this person can take back too, or no less than all. */
  follow: (wanted: { steps?: boolean; whole?: boolean }) => Promise<void>;
  notHeard: (trouble: unknown) => void;
}

export class Listening {
  private timer: number | undefined;
  private closed = false;
  /** When the server last said what else there is, and who is here. */
  private heard = 0;
  private lastLife = Date.now();

  constructor(private readonly page: Listener) {}

  /** Listen from now on; what comes back ends it. */
  begin(): () => void {
    this.closed = false;
    const touched = () => {
      const idle = this.isIdle();
      this.lastLife = Date.now();
      if (idle) this.soon(0);
    };
    document.addEventListener('keydown', touched, true);
    document.addEventListener('pointerdown', touched, true);
    this.soon();
    return () => {
      this.closed = true;
      window.clearTimeout(this.timer);
      document.removeEventListener('keydown', touched, true);
      document.removeEventListener('pointerdown', touched, true);
    };
  }

  /** Ask in so many milliseconds, and not before. */
  soon(delay: number = POLL_EVERY): void {
    window.clearTimeout(this.timer);
    if (!this.closed) this.timer = window.setTimeout(() => void this.turn(), delay);
  }

  hasHeardLately(): boolean {
    return Date.now() - this.heard <= HEARD_LATELY;
  }

  private isIdle(): boolean {
    return Date.now() - this.lastLife > IDLE_AFTER;
  }

  private async turn(): Promise<void> {
    await this.ask();
    const pause = !this.page.read().reachable ? POLL_EVERY : document.hidden ? HIDDEN_EVERY : this.isIdle() ? IDLE_EVERY : POLL_EVERY;
    this.soon(pause);
  }

  /** Ask whether there is something new, and say where this person is. */
  private async ask(): Promise<void> {
    const { id } = this.page.read().state;
    try {
      const news = await get(client.GET('/api/books/{book_id}/changes', { params: { path: { book_id: id }, query: { place: this.page.place() } } }));
      this.page.expect(news.revision);
      await this.hear(news.news, news.present);
      const { state: now } = this.page.read();
      if (news.revision > now.revision) {
        this.lastLife = Date.now();
        await this.page.follow({ steps: true });
      } else if (lacksNumbers(now) || !now.complete) {
        // nobody has written since the last view
        await this.page.follow({ whole: true });
      }
    } catch (trouble) {
      this.page.notHeard(trouble);
    }
  }

  /** Take in what is new beside the readings, and who else is here. */
  async hear(news: number, present: Schemas['PresentOut'][]): Promise<void> {
    this.heard = Date.now();
    const { state, reachable } = this.page.read();
    if (!reachable || JSON.stringify(state.present) !== JSON.stringify(present)) this.page.set({ state: { ...state, present }, reachable: true });
    if (news === state.news) return;
    this.lastLife = Date.now();
    try {
      const beside = await get(client.GET('/api/books/{book_id}/beside', { params: { path: { book_id: state.id } } }));
      this.page.set({ state: { ...this.page.read().state, ...beside } });
    } catch (trouble) {
      this.page.notHeard(trouble);
    }
  }
}

/** The numbers could not be worked out yet, and are to be asked for again. */
function lacksNumbers(state: BookState): boolean {
  return state.analysis.trouble?.code === 'not_worked_out';
}
