import { expect, it } from 'vitest';
import { allRows } from './all.ts';
import { clipRows } from './clips.ts';
import { handoffRows } from './handoffs.ts';
import { paramShape, pathOf, type Row } from './route.ts';
import { siteRows } from './site.ts';

const rows = Object.values(allRows).flatMap((room): Row[] => Object.values(room));

it('no two rows are asked for alike: a place is told apart by what is written out, before what has a name', () => {
  const asked = rows.map(({ method, path }) => `${method} ${path.replace(/:\w+/g, ':')}`);
  expect(asked.filter((one, index) => asked.indexOf(one) !== index)).toEqual([]);
  expect(rows.length).toBeGreaterThan(80);
});

it('every row says who may ask, and nothing is brought along with a question', () => {
  expect(rows.filter(({ who }) => who !== 'assistant')).toEqual([]);
  expect(rows.filter(({ method, body, carries }) => method === 'GET' && (body || carries))).toEqual([]);
  expect(rows.filter(({ method, answer }) => method !== 'GET' && answer.kind === 'file')).toEqual([]);
});

it('writes an address: names and words as they are, escaped; what is not said is left out', () => {
  expect(pathOf(siteRows.folders, { store: 'estuary-raid', query: { folder: 'day 1/A&B' } })).toBe(
    '/stores/estuary-raid/folders?folder=day+1%2FA%26B',
  );
  expect(pathOf(siteRows.folders, { store: '../x', query: {} })).toBe('/stores/..%2Fx/folders');
  expect(pathOf(handoffRows.relink, { run: 'r', format: 'csv' })).toBe('/runs/r/relink.csv');
  expect(pathOf(clipRows.play, { clip: 'c', query: { from: 0, channel: undefined } })).toBe('/clips/c/play?from=0');
});

it('lets nothing into a path but what may stand there', () => {
  const id = '0b9a3c1e-4d5f-4a6b-8c7d-9e0f1a2b3c4d';
  expect([id, id.toUpperCase(), `${id}x`, 'raid', ''].map((one) => paramShape('clip').test(one))).toEqual([
    true,
    true,
    false,
    false,
    false,
  ]);
  expect(['a'.repeat(64), 'A'.repeat(64), 'a'.repeat(63)].map((one) => paramShape('hash').test(one))).toEqual([
    true,
    false,
    false,
  ]);
  expect(['csv', 'json', 'exe'].map((one) => paramShape('format').test(one))).toEqual([true, true, false]);
});
