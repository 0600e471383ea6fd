import { z } from 'zod';

/**
 * A value of one of core's own types inside an answer: what it is stands in core, and is not written down again here.
 * Only whether there is one is looked at.
 */
export function coreType<T>(): z.ZodType<T> {
  return z.custom<T>((value) => value !== undefined && value !== null);
}
