import { expect, it } from 'vitest';
import { pageOf, pagesAround } from './lines.ts';

it('fetches the pages in view with two on either side, and none that do not exist', () => {
  expect(pagesAround(0, 30, 10_000)).toEqual([0, 1, 2]);
  expect(pagesAround(5_010, 5_040, 10_000)).toEqual([48, 49, 50, 51, 52]);
  expect(pagesAround(9_990, 9_999, 10_000)).toEqual([97, 98, 99]);
  expect(pagesAround(0, 30, 12)).toEqual([0]);
  expect(pagesAround(0, 0, 0)).toEqual([]);
  // Whatever is in view is in a page that is fetched.
  for (let first = 0; first < 1_000; first += 37)
    expect(pagesAround(first, first + 25, 1_000)).toContain(Math.floor(first / pageOf));
});
