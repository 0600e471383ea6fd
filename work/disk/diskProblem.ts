import { asShown } from '@relay/media/process/pinned';
import type { Problem } from '@relay/core/result';
import { NameTaken } from './place.ts';

/** What went wrong at a place on a disk, in words. */
export function diskProblem(error: unknown, at: string): Problem {
  const path = asShown(at);
  if (error instanceof NameTaken)
    return {
      what: `${path} is there already and was left as it is`,
      remedy: 'Move it away or choose another folder, then retry',
    };
  const { code, message } = error as NodeJS.ErrnoException;
  if (code === 'ENOSPC' || code === 'EDQUOT' || code === 'EFBIG')
    return {
      kind: 'disk full',
      what: `The disk is full: ${path} could not be finished`,
      remedy: 'Free space or choose another store, then retry',
    };
  if (code === 'EACCES' || code === 'EPERM' || code === 'EROFS')
    return {
      kind: 'not writable',
      what: `${path} may not be written (${code})`,
      remedy: 'Give Brisk Relay the right to write there, or choose another store',
    };
  if (code === 'RELAY_STORE_AWAY') return { what: message, remedy: 'Mount it, then retry' };
  if (code === 'RELAY_NOT_AS_IT_SHOULD')
    return { what: message, remedy: 'Put a real folder in its place, or choose another' };
  if (code === 'ENAMETOOLONG')
    return { what: `${path} has a longer name than this disk can hold`, remedy: 'Choose another store' };
  return {
    what: `${path} could not be finished: ${asShown(message)}`,
    remedy: 'See that the store is mounted, then retry',
  };
}
