import { useSyncExternalStore } from 'react';

/** Where two pictures stand while they are played, and how many of them were drawn in the last second. */
export interface Playing {
  frame: number;
  drawnPerSecond: number | null;
}

/** The place that changes with every picture: only what shows it is drawn again. */
export class Playhead {
  private now: Playing;
  private readonly listeners = new Set<() => void>();
  private readonly drawn: number[] = [];

  constructor(begin = 0) {
    this.now = { frame: begin, drawnPerSecond: null };
  }

  readonly get = (): Playing => this.now;

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  /** Somebody goes to a frame. */
  to(frame: number): void {
    this.drawn.length = 0;
    this.tell({ frame, drawnPerSecond: null });
  }

  /** A picture was drawn at `at`, in milliseconds. */
  drew(frame: number, at: number): void {
    this.drawn.push(at);
    while ((this.drawn[0] ?? at) < at - 1000) this.drawn.shift();
    const [first = at] = this.drawn;
    this.tell({
      frame,
      drawnPerSecond: at - first > 500 ? ((this.drawn.length - 1) * 1000) / (at - first) : null,
    });
  }

  private tell(now: Playing): void {
    this.now = now;
    for (const listener of this.listeners) listener();
  }
}

export function usePlaying(head: Playhead): Playing {
  return useSyncExternalStore(head.subscribe, head.get);
}
