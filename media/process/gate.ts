/**
 * A narrow place: so many at a time go through, in all and of one asker; the others wait their turn, and give up when
 * nobody wants them any more.
 */
export class Gate {
  private inside = 0;
  private readonly of = new Map<string, number>();
  private readonly waiting: { who: string; enter: () => void }[] = [];

  /** `most` in all; `mostEach` of one asker; `mostWaiting` may stand in line. */
  constructor(
    private readonly most: number,
    private readonly mostEach = most,
    private readonly mostWaiting = Infinity,
  ) {}

  /**
   * Runs `work` when it is its turn.
   * @throws GateFull when the line is too long; the signal's reason when it is aborted in line
   */
  async through<T>(who: string, signal: AbortSignal | undefined, work: () => Promise<T>): Promise<T> {
    await this.enter(who, signal);
    try {
      return await work();
    } finally {
      this.leave(who);
    }
  }

  private async enter(who: string, signal: AbortSignal | undefined): Promise<void> {
    signal?.throwIfAborted();
    if (this.waiting.length === 0 && this.mayEnter(who)) {
      this.count(who, 1);
      return;
    }
    if (this.waiting.length >= this.mostWaiting) throw new GateFull();
    await new Promise<void>((resolve, reject) => {
      const one = {
        who,
        enter: () => {
          signal?.removeEventListener('abort', giveUp);
          resolve();
        },
      };
      const giveUp = (): void => {
        const place = this.waiting.indexOf(one);
        if (place >= 0) this.waiting.splice(place, 1);
        reject(signal?.reason as Error);
      };
      signal?.addEventListener('abort', giveUp, { once: true });
      this.waiting.push(one);
      this.letIn();
    });
  }

  private mayEnter(who: string): boolean {
    return this.inside < this.most && (this.of.get(who) ?? 0) < this.mostEach;
  }

  private count(who: string, by: 1 | -1): void {
    this.inside += by;
    const now = (this.of.get(who) ?? 0) + by;
    if (now === 0) this.of.delete(who);
    else this.of.set(who, now);
  }

  private leave(who: string): void {
    this.count(who, -1);
    this.letIn();
  }

  /** Lets in whoever may, foremost first; one asker's line does not hold up the others. */
  private letIn(): void {
    for (let place = 0; place < this.waiting.length && this.inside < this.most;) {
      const one = this.waiting[place] as (typeof this.waiting)[number];
      if (!this.mayEnter(one.who)) {
        place += 1;
        continue;
      }
      this.waiting.splice(place, 1);
      this.count(one.who, 1);
      one.enter();
    }
  }
}

/** Thrown where too many stand in line already. */
export class GateFull extends Error {
  constructor() {
    super('too many wait for this already');
  }
}
