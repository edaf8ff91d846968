// Forms that wait for what has come of the edit that they sent; see decision 53.
import type { OutboxView } from './ports';

/** Called once: with why it was refused, or with nothing where it is kept, waits for the server, or is asked about elsewhere. */
export type Answered = (refusal: string) => void;

export class Asked {
  private readonly waiting = new Map<string, Answered>();

  /** `letGo`: takes a refused row away, for its form holds what was typed. */
  constructor(private readonly letGo: (id: string) => void) {}

  /** Returns how to ask no more. */
  ask(id: string, answered: Answered): () => void {
    this.waiting.set(id, answered);
    return () => this.waiting.delete(id);
  }

  look({ rows, held }: OutboxView): void {
    for (const [id, answered] of [...this.waiting]) {
      const row = rows.find((r) => r.id === id);
      if (row?.state === 'waiting' && !held) continue;
      this.waiting.delete(id);
      const refused = row?.state === 'refused' && row.theirs === null;
      if (refused) this.letGo(id);
      answered(refused ? row.words : '');
    }
  }
}
