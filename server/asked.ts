import { randomBytes } from 'node:crypto';
import { once } from 'node:events';
import type { NextFunction, Request, Response } from 'express';
import { Gate, GateFull } from '@relay/media/process/gate';
import { Refused } from './http.ts';

/**
 * What requests have FFmpeg do, kind by kind: how much at a time, in all and for one asker. The rest stands in line,
 * and leaves it when its page does not want it any more. Runs are not among them; they have the workers.
 */
const gates = {
  /** A single picture or frame: moments, and a whole frame in memory. */
  picture: new Gate(4, 3, 400),
  /** A clip that is played: as long as somebody watches. */
  play: new Gate(4, 2, 40),
  /** A few seconds of a repair. */
  repair: new Gate(1, 1, 20),
  /** Sampled pictures of several clips. */
  forecast: new Gate(1, 1, 20),
  /** Pictures at every event of a cut. */
  swap: new Gate(1, 1, 20),
} as const;

const cookie = 'relay-page';

/** Marks each browser, until members sign in: nobody's work is to wait for a neighbour's thousand pictures. */
export function markBrowsers(request: Request, response: Response, next: NextFunction): void {
  if (!browserOf(request))
    response.cookie(cookie, randomBytes(12).toString('hex'), { httpOnly: true, sameSite: 'strict' });
  next();
}

function browserOf(request: Request): string | null {
  return new RegExp(`(?:^|; )${cookie}=([0-9a-f]{24})(?:;|$)`).exec(request.headers.cookie ?? '')?.[1] ?? null;
}

/** Who asks: a browser that we marked, else a machine. */
function askerOf(request: Request): string {
  return browserOf(request) ?? request.socket.remoteAddress ?? 'nobody';
}

/**
 * Does what a request asks of FFmpeg when it is its turn; not at all when the page is gone by then.
 * @throws Refused when too many stand in line
 */
export async function asAsked(
  kind: keyof typeof gates,
  response: Response,
  work: (unwanted: AbortSignal) => Promise<void>,
): Promise<void> {
  const unwanted = new AbortController();
  response.on('close', () => unwanted.abort());
  if (response.destroyed) unwanted.abort();
  try {
    await gates[kind].through(askerOf(response.req), unwanted.signal, () => work(unwanted.signal));
  } catch (error) {
    if (unwanted.signal.aborted) return;
    if (error instanceof GateFull)
      throw new Refused(429, { what: 'Too much is being asked for at once', remedy: 'Wait a moment, then try again' });
    throw error;
  }
}

/** Hands a stream on to a page piece by piece, as it is made: a page that takes no more makes FFmpeg wait. */
export function handOn(response: Response, gone: AbortSignal): (chunk: Buffer) => Promise<void> | undefined {
  return (chunk) => {
    if (gone.aborted || response.write(chunk)) return undefined;
    return once(response, 'drain', { signal: gone }).then(
      () => undefined,
      () => undefined,
    );
  };
}
