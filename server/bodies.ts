import express, { type NextFunction, type Request, type Response } from 'express';
import { Refused } from './http.ts';

/**
 * How much a request may carry, route by route, and what no request may carry anywhere. Reading JSON holds up
 * everything else for as long as it takes: what is large is a list of clips, or is read aside.
 */

/** Most requests say a few things of one thing. */
const usual = 128 * 1024;
/** Twenty thousand ids of clips, or a recipe with all its versions of text. */
const lists = 2 * 1024 * 1024;
/** A whole production's CSV; it is read aside. */
const csv = 24 * 1024 * 1024;

const ofLists =
  /\/(clips\/(lines|common)|run-check|run-forecast|runs|recipe-preview|recipe-forecast|identity|identity\/(preview|pattern)|decisions|corrections|colour|clips|recipes(\/[^/]+(\/deliverable)?)?)$/;
const ofCsv = /\/identity\/csv(\/preview)?$/;

const [few, many, whole] = [
  express.json({ limit: usual }),
  express.json({ limit: lists }),
  express.raw({ type: 'application/json', limit: csv }),
];

/** Takes a request's body in: JSON as a rule, bytes where it is read aside. */
export function takeBody(request: Request, response: Response, next: NextFunction): void {
  const take = ofCsv.test(request.path) ? whole : ofLists.test(request.path) ? many : few;
  take(request, response, next);
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
