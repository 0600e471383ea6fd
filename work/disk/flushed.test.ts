import { mkdir, open, readFile, readlink, writeFile, type FileHandle } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import type { ClipDescription } from '@relay/core/clip/description';
import { planLeg } from '@relay/core/recipe/plan';
import { finishAndCut } from '@relay/core/recipe/recipe';
import { unwrap } from '@relay/core/result';
import { describeFile } from '@relay/media/describe/describe';
import { ffmpegMakes, scratchFolder } from '../../testing/commands.ts';
import { runLeg } from '../leg/leg.ts';
import { copyFile } from './copyFile.ts';
import { flush, giveName, partBeside, setBeside, writeWhole } from './place.ts';
import { readBack } from './readBack.ts';

/** What was flushed to the disk (fsync(2)), in order: names, of temporary ones only their beginning. */
const flushed: string[] = [];
const shown = (path: string): string => basename(path).replace(/^(\.relay-part-).*/, '$1');

beforeEach(async () => {
  flushed.length = 0;
  const handle = await open('/dev/null');
  const handles = Object.getPrototypeOf(handle) as { sync: FileHandle['sync'] };
  await handle.close();

  const really = handles.sync;
  vi.spyOn(handles, 'sync').mockImplementation(async function (this: FileHandle) {
    flushed.push(shown(await readlink(`/proc/self/fd/${this.fd}`)));
    return really.call(this);
  });
});
afterEach(() => {
  vi.restoreAllMocks();
});

it('a part is flushed before it has its name, and its folder before and after', async () => {
  const folder = await scratchFolder();
  const part = await partBeside(join(folder, 'one.mov'), 'test');
  await part.handle.writeFile('made');
  expect(flushed).toEqual([]);
  await flush(part);
  expect(flushed).toEqual(['.relay-part-', basename(folder)]);
  await giveName(part, join(folder, 'one.mov'));
  expect(flushed.slice(2)).toEqual([basename(folder)]);
});

it('of a set every file is, and the set itself', async () => {
  const folder = await scratchFolder();
  const part = await setBeside(join(folder, 'images'), 'test');
  for (const name of ['a.dpx', 'b.dpx']) await writeFile(join(part.place, name), 'made');
  await flush(part);
  expect([...flushed].sort()).toEqual(['.relay-part-', 'a.dpx', 'b.dpx', basename(folder)].sort());
  await giveName(part, join(folder, 'images'));
});

it('a text that is written whole is, before it has its name', async () => {
  const folder = await scratchFolder();
  await writeWhole(join(folder, 'relink.json'), '{}');
  expect(flushed).toContain('.relay-part-');
  expect(await readFile(join(folder, 'relink.json'), 'utf8')).toBe('{}');
});

it('a copy is, before it is read back', async () => {
  const folder = await scratchFolder();
  await writeFile(join(folder, 'original'), 'bytes of a card');
  await mkdir(join(folder, 'store'));
  let beforeReading: string[] = [];
  const copied = await copyFile(join(folder, 'original'), [join(folder, 'store', 'copy')], {
    hashes: ['xxh64'],
    owner: 'test',
    readBack: (path, names) => {
      beforeReading = [...flushed];
      return readBack(path, names);
    },
  });
  expect(copied.outcomes).toMatchObject([{ ok: true }]);
  expect(beforeReading).toEqual(['.relay-part-']);
});

it('an output is, before it is recorded and named', async () => {
  const folder = await scratchFolder();
  const path = join(folder, 'small.mov');
  await ffmpegMakes('-f', 'lavfi', '-i', 'testsrc2=s=160x90:r=25:d=0.2', '-c:v', 'mjpeg', path);
  const clip = (await describeFile(path, 'small.mov')) as ClipDescription;
  const recipe = { ...finishAndCut, deliverables: finishAndCut.deliverables.slice(0, 1) };
  const [first] = unwrap(planLeg(clip, recipe)).outputs;
  let beforeRecording: string[] = [];
  const made = await runLeg(unwrap(planLeg(clip, recipe)), {
    sourceRoot: folder,
    outRoot: { root: folder, folder: 'out' },
    owner: 'test',
    whole: 'card',
    recorded: async () => null,
    record: async () => {
      beforeRecording = [...flushed];
    },
  });
  expect(made.outputs.map(({ state }) => state)).toEqual(['proved']);
  expect(beforeRecording).toContain('.relay-part-');
  // Its folder once more, with the name.
  expect(flushed.lastIndexOf(basename(join(folder, 'out', first?.path ?? '', '..')))).toBeGreaterThan(
    beforeRecording.length - 1,
  );
});
