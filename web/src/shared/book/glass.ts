// A lab book behind glass: everything can be looked at and pressed, and nothing is kept. A plan is shown so as its benches will see it.
import type { BookState, Edit } from '@/shared/api/client';
import type { Answered } from '@/shared/queue/asked';
import type { Snapshot } from './snapshot';
import type { OpenStore } from './store';

const NOT_KEPT = 'This is how benches will see it; nothing is kept here. Write in the plan itself.';

export class GlassStore implements OpenStore {
  private snapshot: Snapshot;
  private listeners = new Set<() => void>();

  constructor(state: BookState) {
    this.snapshot = {
      state,
      run: state.document.runs[0]?.id ?? '',
      waiting: [],
      unsent: 0,
      refused: [],
      clash: null,
      held: '',
      onlyHere: false,
      reachable: true,
      message: '',
      offers: [],
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
    return () => undefined;
  }

  edit(): void {
    this.set({ message: NOT_KEPT });
  }

  submit(_: Edit, answered: Answered): () => void {
    this.edit();
    answered('');
    return () => undefined;
  }

  step(): Promise<void> {
    this.edit();
    return Promise.resolve();
  }

  retry(): void {
    this.edit();
  }

  whenSaved(): Promise<void> {
    return Promise.resolve();
  }

  chooseRun(run: string): Promise<void> {
    this.set({ run });
    return Promise.resolve();
  }

  goTo(cell: string): void {
    this.set({ goTo: { cell, turn: Date.now() } });
  }

  collect(): void {
    this.edit();
  }

  dismiss(): void {
    this.set({ message: '' });
  }

  showOnlyTable(): void {
    // all of it is here
  }

  setPlace(): void {
    // nobody sees who looks
  }

  leave(): void {
    // nothing was refused
  }

  keepDraft(): void {
    // nothing is being written
  }

  endDraft(): void {
    // nothing is being written
  }

  settleClash(): void {
    // nobody else writes
  }

  whereLast(): string {
    return '';
  }

  setRemarks(): void {
    // there are none
  }

  setHandIns(): void {
    // there are none
  }

  private set(part: Partial<Snapshot>): void {
    this.snapshot = { ...this.snapshot, ...part };
    for (const listener of this.listeners) listener();
  }
}
