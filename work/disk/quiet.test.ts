import { appendFile, utimes, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { expect, it } from 'vitest';
import { scratchFolder } from '../../testing/commands.ts';
import { pause } from '../../testing/site.ts';
import { untilQuiet } from './quiet.ts';

it('a file that is still being written is waited for, and left for later if it does not end; its neighbours are not held up', async () => {
  const folder = await scratchFolder();
  const at = (name: string) => ({ root: folder, path: join(folder, name), shownPath: name });
  await writeFile(at('still.mov').path, 'x');
  await pause(2_100);
  // Its time is an old one, as when a copy keeps times: only its size gives it away.
  await writeFile(at('growing.mov').path, 'x');
  await writeFile(at('ending.mov').path, 'x');
  let writing = true;
  const write = async (): Promise<void> => {
    for (let turn = 0; writing; turn += 1) {
      await appendFile(at('growing.mov').path, 'more');
      await utimes(at('growing.mov').path, new Date('2020-01-01'), new Date('2020-01-01'));
      if (turn < 3) await appendFile(at('ending.mov').path, 'more');
      await pause(300);
    }
  };
  const written = write();
  let beats = 0;
  const { quiet, arriving } = await untilQuiet(
    [at('still.mov'), at('growing.mov'), at('ending.mov'), at('gone.mov')],
    () => {
      beats += 1;
    },
    5_000,
  );
  writing = false;
  await written;
  expect(quiet.map((file) => file.shownPath)).toEqual(['still.mov', 'ending.mov', 'gone.mov']);
  expect(arriving.map((file) => file.shownPath)).toEqual(['growing.mov']);
  expect(beats).toBeGreaterThan(3);
  const from = Date.now();
  await untilQuiet([at('still.mov')], () => undefined);
  expect(Date.now() - from).toBeLessThan(500);
});
