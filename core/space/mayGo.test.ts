import { describe, expect, test } from 'vitest';
import { isTyped, originalsWanting, safeBecause, staysBecause, wordsToDelete, type MadeFile } from './mayGo.ts';

const rule = { copies: 2, stores: 2 };
const copy = (store: string, disk: string | null = store, there = true, proved = true) => ({
  store,
  disk,
  there,
  proved,
});
const two = [copy('RAID'), copy('Shuttle')];
const made = (change: Partial<MadeFile> = {}): MadeFile => ({
  ...{ there: true, original: false, readOnly: false, newerThere: null, lost: [], copies: two, neededBy: [] },
  ...change,
});

describe('what may be deleted', () => {
  test('goes where its originals stand in as many proved copies, on as many disks, as are asked for', () => {
    expect(staysBecause(rule, made())).toBeNull();
    expect(safeBecause(rule, false)).toContain('2 proved copies');
    expect(staysBecause(rule, made({ copies: [copy('RAID')] }))).toBe(
      'its original is there in 1 proved copy, 2 are asked for',
    );
    expect(originalsWanting(rule, [copy('RAID'), copy('Shuttle', 'Shuttle', false)])).toContain('not found on Shuttle');
    expect(originalsWanting(rule, [copy('RAID'), copy('Shuttle', 'Shuttle', true, false)])).toContain('1 proved copy');
    expect(originalsWanting(rule, [copy('RAID', 'a'), copy('Shuttle', 'a')])).toContain('lie on 1 disk, 2 are');
    expect(originalsWanting(rule, [copy('RAID', 'a'), copy('Shuttle', null)])).toContain('lie on 1 disk');
    expect(originalsWanting({ ...rule, oneDisk: true }, [copy('RAID', 'a'), copy('Shuttle', 'a')])).toBeNull();
    expect(originalsWanting({ copies: 1, stores: 1 }, [])).toBe(
      'its original is there in 0 proved copies, 1 is asked for',
    );
  });

  test('an original stays, whatever else is so', () => {
    for (const change of [{}, { newerThere: true }, { copies: two }])
      expect(staysBecause({ copies: 0, stores: 0 }, made({ ...change, original: true }))).toContain('an original');
  });

  test('what is needed, gone, or could not be made again stays', () => {
    expect(staysBecause(rule, made({ there: false }))).toContain('not there');
    expect(staysBecause(rule, made({ readOnly: true }))).toContain('only read from');
    expect(staysBecause(rule, made({ neededBy: ['For the edit is not done'] }))).toBe('For the edit is not done');
    expect(staysBecause(rule, made({ lost: ['The LUT Estuary night'] }))).toContain('could not be made again');
  });

  test('an older version needs no originals, but nobody may be needing it', () => {
    expect(staysBecause(rule, made({ newerThere: true, copies: [], lost: ['x'] }))).toBeNull();
    expect(staysBecause(rule, made({ newerThere: true, neededBy: ['somebody'] }))).toBe('somebody');
    expect(staysBecause(rule, made({ newerThere: false }))).toBe('no newer version lies under its name');
  });

  test('what is typed must say how much', () => {
    expect(wordsToDelete(120)).toBe('delete 120');
    expect(isTyped(' Delete  120 ', 120)).toBe(true);
    for (const typed of ['delete 12', 'delete', '120', '', 'delete 1200']) expect(isTyped(typed, 120)).toBe(false);
  });
});
