import { setTimeout as pause } from 'node:timers/promises';
import { expect, it } from 'vitest';
import { ffmpeg } from './ffmpeg.ts';
import { run } from './run.ts';

it('a process that is stopped while its place is still being made ends, whenever that is', async () => {
  const source = ['-f', 'lavfi', '-i', 'testsrc2=s=320x180:d=600', '-f', 'null', '-'];
  const stopAfter = async (milliseconds: number): Promise<'ended' | number> => {
    const stop = new AbortController();
    const running = run(ffmpeg, ['-v', 'error', ...source], { signal: stop.signal });
    await pause(milliseconds);
    stop.abort();
    return Promise.race([running.then(() => 'ended' as const), pause(20_000, milliseconds)]);
  };
  await run(ffmpeg, ['-version']);
  for (let round = 0; round < 60; round += 1) {
    const ends = await Promise.all(Array.from({ length: 6 }, (_, at) => stopAfter(at * 2 + (round % 2))));
    expect(ends).toEqual(ends.map(() => 'ended'));
  }
});
