import type { NextFunction, Request, Response } from 'express';
import type { Problem } from '@relay/core/result';
import type { ZodType } from 'zod';
import { isDatabaseAway } from './db/dataSource.ts';

/** Something the person can put right, with the HTTP status that says which kind. */
export class Refused extends Error {
  constructor(readonly status: 400 | 404 | 409 | 507, readonly problem: Problem) {
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
  throw new Refused(400, { what: `${first?.path.join('.') || 'The request'}: ${first?.message ?? 'not as expected'}`, remedy: 'Change it and try again' });
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
  const foreign = !['127.0.0.1', 'localhost', '[::1]'].includes(name) || (request.method !== 'GET' && origin !== undefined && origin !== `http://${host}`);
  if (foreign) {
    response.status(403).json({ error: { what: 'This page may not use Brisk Relay', remedy: 'Open the address that ./relay start printed' } });
    return;
  }
  next();
}

/** Every error as words and a remedy; what nobody foresaw is logged and said so. */
export function answerErrors(log: (error: Error) => void) {
  return (error: Error, _request: Request, response: Response, next: NextFunction): void => {
    if (response.headersSent) {
      next(error);
      return;
    }
    if (error instanceof Refused) response.status(error.status).json({ error: error.problem });
    else if (isDatabaseAway(error)) response.status(503).json({ error: { what: 'The database is restarting', remedy: 'Wait a moment; this page goes on by itself' } });
    else if ((error as { type?: string }).type?.startsWith('entity.')) response.status(400).json({ error: { what: 'The request could not be read', remedy: 'Load the page again' } });
    else {
      log(error);
      response.status(500).json({ error: { what: 'Something went wrong in Brisk Relay', remedy: 'Try again; the terminal of ./relay start shows what happened' } });
    }
  };
}
