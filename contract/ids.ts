import { z } from 'zod';

const uuid = /^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$/i;

/**
 * A list of ids of clips. It is looked through in one go: of twenty thousand, one check each by itself would hold up
 * everybody else.
 */
export function clipIdList(least: number, most = 20_000) {
  return z.custom<readonly string[]>(
    (value) =>
      Array.isArray(value) &&
      value.length >= least &&
      value.length <= most &&
      value.every((id) => typeof id === 'string' && uuid.test(id)),
    `${least} to ${most} ids of clips`,
  );
}
