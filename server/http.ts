import type { NextFunction, Request, Response } from 'express';
import { OutOfPlace } from '@relay/core/naming/under';
import type { Problem } from '@relay/core/result';
import type { ZodType } from 'zod';
import { TooMuch } from '@relay/work/aside/tooMuch';
import { isDatabaseAway } from './db/dataSource.ts';

/** Something the person can put right, with the HTTP status that says which kind. */
export class Refused extends Error {
  constructor(
    readonly status: 400 | 404 | 409 | 413 | 429 | 507,
    readonly problem: Problem,
  ) {
    super(problem.what);
  }
}

export function notThere(what: string): Refused {
  return new Refused(404, { what: `${what} is not there (any more)`, remedy: 'Go back and choose again' });
}

/** A request's body or query, checked. */
export function checked<T>(schema: ZodType<T>, value: unknown): T {
  const parsed = schema.safeParse(value);
  if (parsed.success) return parsed.data;
  const first = parsed.error.issues[0];
  throw new Refused(400, {
    what: `${first?.path.join('.') || 'The request'}: ${first?.message ?? 'not as expected'}`,
    remedy: 'Change it and try again',
  });
}

const uuid = /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/i;

/** An id from the path; what is no id cannot be there. */
export function idOf(request: Request, name = 'id'): string {
  const value = request.params[name];
  if (typeof value !== 'string' || !uuid.test(value)) throw notThere('What you asked for');
  return value;
}

/**
 * Only pages of our own may speak to the server: a request must be addressed to this machine by name, and one that
 * changes something must come from a page of the same address.
 */
export function onlyOwnPages(request: Request, response: Response, next: NextFunction): void {
  const host = request.headers.host ?? '';
  const name = host.replace(/:\d+$/, '');
  const origin = request.headers.origin;
  const foreign =
    !['127.0.0.1', 'localhost', '[::1]'].includes(name) ||
    (request.method !== 'GET' && origin !== undefined && origin !== `http://${host}`);
  if (foreign) {
    response.status(403).json({
      error: { what: 'This page may not use Brisk Relay', remedy: 'Open the address that ./relay start printed' },
    });
    return;
  }
  next();
}

/**
 * What the database says of values that it cannot take (PostgreSQL, appendix A): class 22, data exceptions; 23,
 * integrity.
 */
function refusedByDatabase(error: Error): Refused | null {
  const { code } = error as { code?: string };
  if (typeof code !== 'string' || !/^[0-9A-Z]{5}$/.test(code)) return null;
  if (code === '23503')
    return new Refused(404, {
      what: 'What the request speaks of is not there (any more)',
      remedy: 'Go back and choose again',
    });
  if (code === '23505')
    return new Refused(409, { what: 'That is there already', remedy: 'Look again, and choose another name' });
  if (code.startsWith('22') || code.startsWith('23'))
    return new Refused(400, {
      what: 'The request holds a value that cannot be kept',
      remedy: 'Change it and try again',
    });
  return null;
}

/** What Express and its parsers refuse, by the status that they give it. */
function refusedByExpress(error: Error): Refused | null {
  const { status, type } = error as { status?: number; type?: string };
  if (status === 413)
    return new Refused(413, { what: 'The request is larger than is taken here', remedy: 'Send it in parts' });
  // A part of the interface that is not in this build.
  if (status === 404) return notThere('What you asked for');
  if (status !== undefined && status >= 400 && status < 500)
    return new Refused(400, { what: 'The request could not be read', remedy: 'Load the page again' });
  return type?.startsWith('entity.')
    ? new Refused(400, { what: 'The request could not be read', remedy: 'Load the page again' })
    : null;
}

/** An error as the person can put it right; null where nobody foresaw it. */
export function refusalOf(error: Error): Refused | null {
  if (error instanceof Refused) return error;
  if (error instanceof OutOfPlace)
    return new Refused(400, { what: error.message, remedy: 'Choose a place inside the store' });
  if (error instanceof TooMuch)
    return new Refused(413, { what: `That is too much to be read: ${error.message}`, remedy: 'Send it in parts' });
  return refusedByDatabase(error) ?? refusedByExpress(error);
}

/** Every error as words and a remedy; what nobody foresaw is logged and said so. */
export function answerErrors(log: (error: Error) => void) {
  return (error: Error, _request: Request, response: Response, next: NextFunction): void => {
    if (response.headersSent) {
      next(error);
      return;
    }
    const refused = refusalOf(error);
    if (refused) response.status(refused.status).json({ error: refused.problem });
    else if (isDatabaseAway(error))
      response
        .status(503)
        .json({ error: { what: 'The database is restarting', remedy: 'Wait a moment; this page goes on by itself' } });
    else {
      log(error);
      response.status(500).json({
        error: {
          what: 'Something went wrong in Brisk Relay',
          remedy: `Try again; ${process.env.RELAY_LOG ?? "the server's log"} says what happened`,
        },
      });
    }
  };
}
