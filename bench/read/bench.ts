import { spawn } from 'node:child_process';
import { link, mkdir, mkdtemp, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { isRefusal } from '@relay/core/clip/description';
import { ffprobe } from '@relay/media/process/ffmpeg';
import { readFiles } from '@relay/work/read/readFiles';
import { filesBelow } from '@relay/work/disk/walk';
import { median, secondsSince } from '../numbers.ts';

const files = 500;

/**
 * The description of 500 files (the demo originals, linked again and again) against a plain loop that asks ffprobe for
 * streams and format of one after the other. Alternating rounds; both read from the page cache.
 */
export async function benchRead(args: readonly string[]): Promise<void> {
  const source = args[0] ?? '.relay/painted/estuary/salt-lantern';
  const rounds = Math.max(3, Number(args[1] ?? 3));
  const scratch = await mkdtemp(join(source, '..', '..', 'bench-read-'));
  try {
    const found = await filesBelow(source);
    const clips = (await readFiles(found.files)).flatMap((entry, index) =>
      isRefusal(entry) ? [] : [found.files[index] as (typeof found.files)[number]],
    );
    for (let index = 0; index < files; index += 1) {
      const clip = clips[index % clips.length] as (typeof clips)[number];
      const folder = join(scratch, String(Math.floor(index / 50)));
      await mkdir(folder, { recursive: true });
      await link(clip.path, join(folder, `${index}-${clip.shownPath.split('/').at(-1)}`));
    }
    const { files: all } = await filesBelow(scratch);
    const [ours, plain]: [number[], number[]] = [[], []];
    for (let round = 0; round < rounds; round += 1) {
      let from = performance.now();
      for (const file of all)
        await new Promise((resolve) =>
          spawn(ffprobe, ['-v', 'error', '-of', 'json', '-show_streams', '-show_format', file.path], {
            stdio: ['ignore', 'ignore', 'ignore'],
          }).once('close', resolve),
        );
      plain.push(secondsSince(from));
      from = performance.now();
      const entries = await readFiles(all);
      ours.push(secondsSince(from));
      const refused = entries.filter(isRefusal).length;
      console.log(
        `round ${round + 1}: plain ${plain.at(-1)?.toFixed(1)} s, ours ${ours.at(-1)?.toFixed(1)} s, ratio ${((ours.at(-1) as number) / (plain.at(-1) as number)).toFixed(3)}, ${entries.length} described, ${refused} refused`,
      );
    }
    console.log(
      `median: plain ${median(plain).toFixed(1)} s, ours ${median(ours).toFixed(1)} s, ratio ${(median(ours) / median(plain)).toFixed(3)} (aim: at most 0.6)`,
    );
  } finally {
    await rm(scratch, { recursive: true, force: true });
  }
}
