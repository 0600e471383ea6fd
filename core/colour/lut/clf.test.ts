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

it('a range of one side alone moves and clamps there', () => {
  const range = (inside: string) => {
    const read = readClf(
      `<ProcessList compCLFversion="3" id="x"><Range inBitDepth="32f" outBitDepth="32f">${inside}</Range></ProcessList>`,
    );
    return read.ok ? read.value.ops[0] : read.problem.what;
  };
  const low = '<minInValue>0.25</minInValue><minOutValue>0.5</minOutValue>';
  const high = '<maxInValue>1</maxInValue><maxOutValue>0.5</maxOutValue>';
  expect(range(low)).toEqual({ op: 'range', scale: 1, offset: 0.25, min: 0.5, max: null });
  expect(range(high)).toEqual({ op: 'range', scale: 1, offset: -0.5, min: null, max: 0.5 });
  expect(range('<minInValue>0.25</minInValue>')).toContain('minInValue and minOutValue both, or neither');
  expect(range('')).toContain('a Range without values does nothing');
});

it('is known by its versions, 2 and 3', () => {
  const versioned = (version: string): boolean => readClf(list(1).replace('"3"', `"${version}"`)).ok;
  expect(['2', '2.0', '3', '3.1', '1', '4', '30', '3.x'].map(versioned)).toEqual([
    ...[true, true, true, true],
    ...[false, false, false, false],
  ]);
});
