import { expect, it } from 'vitest';
import { readClf } from './clf.ts';

const step = '<Matrix inBitDepth="32f" outBitDepth="32f"><Array dim="3 3">1 0 0 0 1 0 0 0 1</Array></Matrix>';
const list = (steps: number): string => `<ProcessList compCLFversion="3" id="x">${step.repeat(steps)}</ProcessList>`;

it('a list of 200 steps is read, one of 201 is refused', () => {
  const read = readClf(list(200));
  expect(read.ok).toBe(true);
  const more = readClf(list(201));
  expect(more.ok ? null : more.problem.what).toContain('there are more than 200 steps');
});

it('is known by its versions, 2 and 3', () => {
  const versioned = (version: string): boolean => readClf(list(1).replace('"3"', `"${version}"`)).ok;
  expect(['2', '2.0', '3', '3.1', '1', '4', '30', '3.x'].map(versioned)).toEqual([
    ...[true, true, true, true],
    ...[false, false, false, false],
  ]);
});
