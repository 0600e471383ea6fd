import { rm, stat } from 'node:fs/promises';
import { basename, dirname, resolve } from 'node:path';
import { under } from '@relay/core/naming/under';
import type { Finding } from '@relay/core/findings/finding';
import type { ClipDescription } from '@relay/core/clip/description';
import type { Measured } from '@relay/core/measure/measured';
import { formatRaster } from '@relay/core/shape/raster';
import { formatRate } from '@relay/core/time/rate';
import { formatLength } from '@relay/core/time/timecode';
import { scratchFolder } from '@relay/media/process/scratch';
import { lookClosely } from '@relay/media/look/look';
import { inLanes } from '@relay/work/lanes';
import { findingsAmong, readFolder } from '@relay/work/read/readFolder';
import { filesBelow, type FoundFile } from '@relay/work/disk/walk';
import { complain, endProgress, Misuse, printJson } from './output.ts';
import { Pace } from './pace.ts';

/** Clips looked at closely at a time: each decodes pictures and sound. */
const looksAtOnce = 2;

/** `relay read PATH… [--quick] --json`: describes every file named and every file below the folders named, with findings. */
export async function readCommand(
  paths: readonly string[],
  values: { quick?: boolean; json?: boolean },
): Promise<number> {
  const files: FoundFile[] = [];
  for (const given of paths) {
    const facts = await stat(given).catch(() => null);
    if (!facts) throw new Misuse(`${given} is not there`);
    if (facts.isDirectory()) {
      const found = await filesBelow(given);
      files.push(...found.files);
      found.unseen.forEach((entry) => complain(`${entry.shownPath}: ${entry.why}`));
    } else files.push({ root: dirname(resolve(given)), path: resolve(given), shownPath: basename(given) });
  }
  const reading = new Pace('Reading');
  const { clips, refusals } = await readFolder(files, (done) => reading.at(done, files.length));
  const scratch = await scratchFolder();
  try {
    let looked = 0;
    const looking = new Pace('Looking at');
    const measured = values.quick
      ? []
      : await inLanes(clips, looksAtOnce, async ({ clip, files: own }, index): Promise<Measured | null> => {
          const look = await lookClosely(clip, own, under(scratch, `${index}.jpg`)).catch(() => null);
          looked += 1;
          looking.at(looked, clips.length);
          return look?.measured ?? null;
        });
    endProgress();
    const findings = findingsAmong(clips, measured);
    const entries = [
      ...clips.map(({ clip, identity, sidecars }, index) => ({
        ...clip,
        reel: identity.reel,
        identity,
        sidecars,
        findings: findings[index] ?? [],
      })),
      ...refusals,
    ].sort((a, b) => (a.path < b.path ? -1 : 1));
    if (values.json) printJson(entries);
    else {
      for (const entry of entries) {
        if ('problem' in entry) process.stdout.write(`${entry.path}: ${entry.problem.what}\n`);
        else {
          process.stdout.write(`${line(entry)}\n`);
          entry.findings.forEach((finding: Finding) =>
            process.stdout.write(`  ${finding.level.padEnd(6)} ${finding.text}. ${finding.why}. ${finding.remedy}\n`),
          );
        }
      }
    }
  } finally {
    await rm(scratch, { recursive: true, force: true });
  }
  return 0;
}

function line(entry: ClipDescription): string {
  const { video } = entry;
  const picture = video
    ? `${video.codec} ${formatRaster(video.raster)} ${video.rateConstant ? formatRate(video.rate) : `varying, ${formatRate(video.rate)}`} ${formatLength(video.frames, video.rate)}`
    : 'sound only';
  const chapters = entry.chapters.length > 0 ? `, ${entry.chapters.length} chapters` : '';
  return `${entry.path}: ${entry.wrapper}, ${picture}${chapters}, starts ${entry.timecode?.start ?? 'without timecode'}, reel ${entry.reel ?? 'none'}`;
}
