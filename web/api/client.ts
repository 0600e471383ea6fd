import { pathOf, type AnswerOf, type Asking, type Row } from '@relay/contract/routes/route';
import type { ErrorAnswer } from '@relay/contract/site';
import type { Problem } from '@relay/core/result';
import { noteAway, noteThere } from './reach.ts';

/** An answer that was no success: what happened and what to do, as the server words it. */
export class Refused extends Error {
  constructor(
    readonly problem: Problem,
    readonly status: number,
  ) {
    super(problem.what);
  }
}

/** What is given to ask by a row; nothing at all where the row needs nothing. */
type Given<One extends Row> = object extends Asking<One> ? [asking?: Asking<One>] : [asking: Asking<One>];

/** The address of what a row answers with: a picture, a table, a file. */
export function addressOf<One extends Row>(one: One, ...[asking]: Given<One>): string {
  return `/api${pathOf(one, asking ?? {})}`;
}

/**
 * Asks by a row, and gives what is answered as it comes.
 * @throws Refused with what happened and what to do
 */
export async function fetchBy<One extends Row>(one: One, ...[asking]: Given<One>): Promise<Response> {
  const { body, signal } = (asking ?? {}) as { body?: unknown; signal?: AbortSignal };
  const carried = body instanceof Blob ? body : JSON.stringify(body ?? {});
  const init: RequestInit = {
    method: one.method,
    ...(one.method === 'GET'
      ? {}
      : {
          headers: { 'Content-Type': body instanceof Blob ? 'application/octet-stream' : 'application/json' },
          body: carried,
        }),
    ...(signal ? { signal } : {}),
  };
  const response = await fetch(`/api${pathOf(one, asking ?? {})}`, init).catch((error: unknown) => {
    // Who does not want it any more is told so, as fetch does.
    if (signal?.aborted) throw error;
    noteAway();
    throw new Refused(
      { what: 'Brisk Relay does not answer', remedy: 'See that ./relay start is running; this page goes on by itself' },
      0,
    );
  });
  noteThere();
  if (response.ok) return response;
  throw new Refused(problemOf(await response.json().catch(() => null), response.status), response.status);
}

function problemOf(body: unknown, status: number): Problem {
  return body && typeof body === 'object' && 'error' in body
    ? (body as ErrorAnswer).error
    : { what: `The server answered ${status}`, remedy: 'Load the page again' };
}

/** Asks by a row, and gives the answer that the row promises. */
export async function ask<One extends Row>(one: One, ...given: Given<One>): Promise<AnswerOf<One>> {
  const response = await fetchBy(one, ...given);
  if (response.status === 204) return undefined as AnswerOf<One>;
  const body = (await response.json().catch(() => null)) as AnswerOf<One> | null;
  if (body === null) throw new Refused(problemOf(null, response.status), response.status);
  return body;
}
