import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { isRefusal } from '@relay/core/clip/description';
import { lookClosely } from '@relay/media/look/look';
import { ffmpeg, inputArguments } from '@relay/media/process/ffmpeg';
import { runOwn } from '@relay/media/process/run';
import { inLanes } from '@relay/work/lanes';
import { filesBelow } from '@relay/work/disk/walk';
import { readFiles } from '@relay/work/read/readFiles';
import { median, secondsSince } from '../numbers.ts';
import { paintDay } from '../short/originals.ts';

/** As many as the site's worker looks at together. */
const together = 2;

/**
 * The closer look at 32 short clips, two at a time as a worker does, against decoding each from end to end once, two at
 * a time too. Arguments: rounds (3).
 */
export async function benchLook(args: readonly string[]): Promise<void> {
  const rounds = Math.max(1, Number(args[0] ?? 3));
  const scratch = await mkdtemp(join(tmpdir(), 'relay-bench-look-'));
  try {
    const folder = join(scratch, 'clips');
    await paintDay({ name: 'short', clips: 32, raster: '1280x720', seconds: 2, aim: Number.NaN }, folder);
    const { files } = await filesBelow(folder);
    let from = performance.now();
    const clips = (await readFiles(files)).flatMap((clip, index) =>
      isRefusal(clip) ? [] : [{ clip, path: files[index]?.path ?? '' }],
    );
    console.log(`${clips.length} described in ${secondsSince(from).toFixed(1)} s`);
    const [looked, decoded]: [number[], number[]] = [[], []];
    for (let round = 0; round < rounds; round += 1) {
      from = performance.now();
      await inLanes(clips, together, ({ path }) =>
        runOwn(ffmpeg, ['-v', 'error', ...inputArguments(path), '-map', '0:v', '-map', '0:a', '-f', 'null', '-']),
      );
      decoded.push(secondsSince(from));
      from = performance.now();
      await inLanes(clips, together, ({ clip, path }) => lookClosely(clip, [path], join(scratch, `${clip.stem}.jpg`)));
      looked.push(secondsSince(from));
      console.log(
        `round ${round + 1}: decoded in ${decoded.at(-1)?.toFixed(1)} s, looked at in ${looked.at(-1)?.toFixed(1)} s`,
      );
    }
    console.log(
      `median: ${median(looked).toFixed(1)} s for ${clips.length} clips (aim 15 s), ${(median(looked) / median(decoded)).toFixed(2)} of decoding them`,
    );
  } finally {
    await rm(scratch, { recursive: true, force: true });
  }
}
