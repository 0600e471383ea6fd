import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { expect, it } from 'vitest';
import { longest } from './longestFirst.ts';

it('names files that are there', () => {
  expect(longest.filter((path) => !existsSync(join(import.meta.dirname, '..', path)))).toEqual([]);
});
