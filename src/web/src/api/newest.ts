import { Refused, Unreachable } from './client';

/** Where a caller stands: nothing to do, a request under way, or waiting to try again. */
export type Standing = 'idle' | 'asking' | 'waiting';

type Tell<Wish, Answer> = {
  /** `isNewest`: nothing else was wanted meanwhile. */
  answered: (answer: Answer, wish: Wish, isNewest: boolean) => void;
  refused: (error: Error, wish: Wish) => void;
  /** It is tried again by itself. */
  waiting: (error: Error) => void;
};

/**
 * One request under way at a time; when it ends, the newest wish is sent, so that a late answer never overwrites a newer one. While the
 * server does not answer, or asks to come again, it is tried again.
 */
export class Newest<Wish, Answer> {
  private wanted: { wish: Wish } | null = null;
  private run: Promise<void> | null = null;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private soon: ReturnType<typeof setTimeout> | undefined;
  private leaving = new AbortController();
  standing: Standing = 'idle';

  /** @param send is told when its answer is not wanted any more */
  constructor(
    private readonly send: (wish: Wish, leaving: AbortSignal) => Promise<Answer>,
    private readonly tell: Tell<Wish, Answer>,
    private readonly pause = 1500,
  ) {}

  /** Wants something, in the place of what was wanted before. Ends when there is nothing more to send for now. */
  want(wish: Wish): Promise<void> {
    this.wanted = { wish };
    return this.go();
  }

  /** Wants something within a moment, which leaves the line to what is more urgent; what is wanted meanwhile takes its place. */
  wantSoon(wish: Wish, moment: number) {
    this.wanted = { wish };
    this.soon ??= setTimeout(() => this.go(), moment);
  }

  /** Sends what was only wanted soon, at once. */
  hurry() {
    if (this.soon !== undefined) this.go();
  }

  /** Sends what waits, at once. */
  go(): Promise<void> {
    this.clear();
    this.run ??= this.work().finally(() => {
      this.run = null;
    });
    return this.run;
  }

  /** Wants nothing any more; what is under way is given up where it can be, and ends unheard. */
  stop() {
    this.wanted = null;
    this.leaving.abort();
    this.leaving = new AbortController();
    this.clear();
    this.standing = 'idle';
  }

  private clear() {
    clearTimeout(this.timer);
    clearTimeout(this.soon);
    this.soon = undefined;
  }

  private async work() {
    while (this.wanted) {
      const sent = this.wanted;
      const { signal } = this.leaving;
      this.standing = 'asking';
      try {
        const answer = await this.send(sent.wish, signal);
        if (signal.aborted) continue;
        const isNewest = this.wanted === sent;
        if (isNewest) this.wanted = null;
        if (this.wanted || isNewest) this.tell.answered(answer, sent.wish, isNewest);
      } catch (error) {
        if (signal.aborted) continue;
        if (error instanceof Unreachable || (error instanceof Refused && (error.status === 429 || error.status === 503))) {
          this.standing = 'waiting';
          this.timer = setTimeout(() => this.go(), this.pause);
          this.tell.waiting(error);
          return;
        }
        // What was refused is not sent again; what came after it is.
        if (this.wanted === sent) this.wanted = null;
        this.tell.refused(error as Error, sent.wish);
      }
    }
    this.standing = 'idle';
  }
}
