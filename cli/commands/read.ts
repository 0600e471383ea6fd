import { stat } from 'node:fs/promises';
import { basename, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { isRefusal, type ReadEntry } from '@relay/core/clip/description';
import { formatRaster } from '@relay/core/shape/raster';
import { formatRate } from '@relay/core/time/rate';
import { formatLength } from '@relay/core/time/timecode';
import { readFiles } from '@relay/server/clips/readFiles';
import { filesBelow, type FoundFile } from '@relay/server/stores/walk';
import { complain, endProgress, Misuse, printJson, progressLine } from './output.ts';

/** `relay read PATH… --json`: describes every file named, and every file below the folders named. */
export async function readCommand(args: string[]): Promise<number> {
  const { values, positionals } = parseArgs({ args, allowPositionals: true, options: { json: { type: 'boolean' } } });
  if (positionals.length === 0) throw new Misuse('read needs a file or folder');
  const files: FoundFile[] = [];
  for (const given of positionals) {
    const facts = await stat(given).catch(() => null);
    if (!facts) throw new Misuse(`${given} is not there`);
    if (facts.isDirectory()) {
      const found = await filesBelow(given);
      files.push(...found.files);
      found.unseen.forEach((entry) => complain(`${entry.shownPath}: ${entry.why}`));
    } else files.push({ path: resolve(given), shownPath: basename(given) });
  }
  const entries = await readFiles(files, (done) => progressLine(`Reading ${done} of ${files.length}`));
  endProgress();
  if (values.json) printJson(entries);
  else entries.forEach((entry) => process.stdout.write(`${line(entry)}\n`));
  return 0;
}

function line(entry: ReadEntry): string {
  if (isRefusal(entry)) return `${entry.path}: ${entry.problem.what}`;
  const { video } = entry;
  const picture = video
    ? `${video.codec} ${formatRaster(video.raster)} ${video.rateConstant ? formatRate(video.rate) : `varying, ${formatRate(video.rate)}`} ${formatLength(video.frames, video.rate)}`
    : 'sound only';
  return `${entry.path}: ${entry.wrapper}, ${picture}, starts ${entry.timecode?.start ?? 'without timecode'}, reel ${entry.reel ?? 'none'}`;
}
