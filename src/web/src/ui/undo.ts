import { createContext, useContext, useEffect, useSyncExternalStore } from 'react';

/** Something that was done and can be taken back. */
export type Step = {
  /** What it was: "2 Bell". */
  words: string;
  /** Whose it is, so that it goes when that is no longer open. */
  of: string;
  /** Steps of one key that follow one another at once are one: a word typed letter by letter. */
  key?: string;
  undo: () => void | Promise<void>;
  redo: () => void | Promise<void>;
};

const MOST = 500;
const AT_ONCE = 1200;

/** What was done, wherever it was done; the last is taken back first. */
export class History {
  private past: Step[] = [];
  private future: Step[] = [];
  private readonly listeners = new Set<() => void>();
  private pushed = 0;
  private now: { last?: string; next?: string; said?: string; saidAt: number } = { saidAt: 0 };

  push(step: Step, at = Date.now()) {
    const last = this.past.at(-1);
    if (last && step.key && last.key === step.key && last.of === step.of && at - this.pushed < AT_ONCE && this.future.length === 0)
      this.past[this.past.length - 1] = { ...step, undo: last.undo };
    else this.past = [...this.past.slice(1 - MOST), step];
    this.pushed = at;
    this.future = [];
    this.changed();
  }

  /** Takes back the last step, and says what it was. */
  undo() {
    return this.turn(this.past, this.future, 'undo', { done: 'taken back', none: 'nothing to take back' });
  }

  redo() {
    return this.turn(this.future, this.past, 'redo', { done: 'done again', none: 'nothing to do again' });
  }

  private async turn(from: Step[], to: Step[], which: 'undo' | 'redo', words: { done: string; none: string }) {
    const step = from.pop();
    if (step) to.push(step);
    this.pushed = 0;
    try {
      // First done, then said: what is shown has changed by then.
      const done = step?.[which]();
      this.changed(step ? `${words.done}: ${step.words}` : words.none);
      await done;
    } catch (error) {
      this.changed(`not ${words.done}: ${step?.words}. ${(error as Error).message}`);
    }
  }

  /** What is no longer open can no longer be taken back from here. */
  forget(of: string) {
    this.past = this.past.filter((step) => step.of !== of);
    this.future = this.future.filter((step) => step.of !== of);
    this.changed();
  }

  readonly subscribe = (listener: () => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  /** What would be taken back, what done again, and what was said of the last time that was done. */
  readonly ends = () => this.now;

  private changed(said?: string) {
    this.now = {
      last: this.past.at(-1)?.words,
      next: this.future.at(-1)?.words,
      said,
      saidAt: said ? this.now.saidAt + 1 : this.now.saidAt,
    };
    for (const listener of this.listeners) listener();
  }
}

const HistoryContext = createContext(new History());

export const HistoryProvider = HistoryContext.Provider;

export const useHistory = () => useContext(HistoryContext);

export function useHistoryEnds() {
  const history = useHistory();
  return useSyncExternalStore(history.subscribe, history.ends);
}

/** Steps of something that is open; they go with it. */
export function useForget(of: string) {
  const history = useHistory();
  useEffect(() => () => history.forget(of), [history, of]);
}
