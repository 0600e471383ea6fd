import type { Carries } from '@relay/contract/routes/route';
import express, { type NextFunction, type Request, type RequestHandler, type Response } from 'express';
import { Refused } from './http.ts';

/**
 * How much a request may carry, and what no request may carry anywhere. Reading JSON holds up everything else for as
 * long as it takes: what is large is a list of clips, or is read aside.
 */

const readers: Readonly<Record<Exclude<Carries, object>, RequestHandler>> = {
  few: express.json({ limit: 128 * 1024 }),
  lists: express.json({ limit: 2 * 1024 * 1024 }),
  aside: express.raw({ type: 'application/json', limit: 24 * 1024 * 1024 }),
};

/** Takes a request's body in: JSON as a rule; as bytes what is read aside, and files, whatever they call themselves. */
export function takeBody(carries: Carries): RequestHandler {
  return typeof carries === 'string' ? readers[carries] : express.raw({ type: () => true, limit: carries.bytes });
}

/** Texts that no database and no file system can hold: with a NUL, or with half of a pair of code units. */
function broken(value: unknown, depth = 0): boolean {
  if (typeof value === 'string') return value.includes('\0') || /\p{Cs}/u.test(value);
  if (typeof value !== 'object' || value === null || Buffer.isBuffer(value)) return false;
  if (depth > 40) return true;
  return Object.entries(value).some(([key, inner]) => broken(key) || broken(inner, depth + 1));
}

/** Refuses what nothing behind can hold, before it gets there. */
export function onlyText(request: Request, _response: Response, next: NextFunction): void {
  let path: string;
  try {
    path = decodeURIComponent(request.path);
  } catch {
    throw malformed();
  }
  if (broken(path) || broken(request.query) || broken(request.body)) throw malformed();
  next();
}

function malformed(): Refused {
  return new Refused(400, {
    what: 'The request holds text that cannot be kept',
    remedy: 'Take out what is no letter, and try again',
  });
}
