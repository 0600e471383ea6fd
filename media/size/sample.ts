import { codecRow } from '@relay/core/recipe/codecs';
import type { LegPlan, OutputPlan } from '@relay/core/recipe/legPlan';
import { exactFrameBytes } from '@relay/core/size/forecast';
import type { SizeSamples } from '@relay/core/size/estimate';
import { formatFraction, toNumber } from '@relay/core/time/rational';
import { readFile, rm } from 'node:fs/promises';
import { under } from '@relay/core/naming/under';
import { encoderArguments, type Tuning } from '../leg/encoders.ts';
import { pictureFilters, pixelFormat } from '../leg/filters.ts';
import { ffmpeg } from '../process/ffmpeg.ts';
import { withInput, type Source } from '../process/joined.ts';
import { legMemory } from '../leg/memory.ts';
import { run } from '../process/run.ts';
import { scratchFolder } from '../process/scratch.ts';

/** Places of a clip that are sampled, and the frames at each of a codec whose pictures are all whole. */
const [placesAtMost, intraFrames] = [4, 2];

/** Frames that are encoded for one sample, and which of their packets count. */
interface SampleLength {
  frames: number;
  from: number;
  to: number;
}

/**
 * A whole group of pictures where they depend on each other, or its first picture would weigh too much. H.264 and HEVC
 * spread bits by what came before and what is to come: of three groups the middle one counts.
 */
function lengthOf({ codec, video }: OutputPlan): SampleLength {
  const group = Math.max(2, Math.round(toNumber(video.rate) / 2));
  if (codec.id === 'h264' || codec.id === 'hevc')
    return video.frames >= 4 * group
      ? { frames: 3 * group, from: group, to: 2 * group }
      : { frames: Math.min(video.frames, 2 * group), from: 0, to: Infinity };
  if (codecRow(codec).intra) return { frames: intraFrames, from: 0, to: Infinity };
  return { frames: 4 * group, from: 0, to: Infinity };
}

/**
 * An original of no more frames is encoded from end to end, which costs no more than places of a longer one; of
 * pictures that are all whole so many are taken, evenly.
 */
const [shortFrames, evenFrames] = [130, 8];

/** The same for a short original: all of it, or every so manieth picture where each is whole by itself. */
function lengthOfShort({ codec, video }: OutputPlan): SampleLength & { every: number } {
  const every = codecRow(codec).intra ? Math.max(1, Math.ceil(video.frames / evenFrames)) : 1;
  return { frames: Math.ceil(video.frames / every), from: 0, to: Infinity, every };
}

/** Whether an output's size follows the picture. */
export function wantsSamples(output: OutputPlan): boolean {
  return exactFrameBytes(output) === null && !output.rate;
}

/**
 * Encodes a few frames at several places just as a run would, and measures what they take: for each output, or null
 * where its size needs no sampling or nothing could be had. `tunings` are those of the run. Outputs whose steps look at
 * the whole clip first are sampled without them.
 */
// eslint-disable-next-line max-lines-per-function -- one command and what is read of it, line by line
export async function sampleLeg(
  plan: LegPlan,
  source: Source,
  tunings: readonly Tuning[],
  signal?: AbortSignal,
): Promise<(SizeSamples | null)[]> {
  const wanted = plan.outputs
    .map((output, index) => ({ output, tuning: tunings[index] ?? {}, index }))
    .filter(
      ({ output, tuning }) =>
        wantsSamples(output) &&
        !output.burn &&
        (output.video.steps.every(({ kind }) => kind !== 'stabilise') || tuning.shake),
    );
  const isShort = plan.original.video !== null && plan.original.video.frames <= shortFrames;
  const lengthFor = (output: OutputPlan): SampleLength & { every: number } =>
    isShort ? lengthOfShort(output) : { ...lengthOf(output), every: 1 };
  const seconds = plan.original.video ? toNumber(plan.original.video.duration) : 0;
  const longest = Math.max(1, ...wanted.map(({ output }) => lengthFor(output).frames));
  const rate = plan.original.video ? toNumber(plan.original.video.rate) : 25;
  const places = isShort ? 1 : Math.max(1, Math.min(placesAtMost, Math.floor((seconds * rate) / (longest * 1.5))));
  const found = plan.outputs.map((): { bytesPerFrame: number[]; whole: boolean } => ({
    bytesPerFrame: [],
    whole: false,
  }));
  if (wanted.length === 0) return plan.outputs.map(() => null);
  const folder = await scratchFolder();
  try {
    // A sample must not run past the end. Where nothing comes of the middle of a file, as without an index, its
    // beginning is taken.
    const starts = isShort
      ? [0]
      : [
          ...Array.from({ length: places }, (_, place) =>
            Math.max(0, Math.min(seconds - longest / rate, (seconds * (place + 0.5)) / places - longest / rate / 2)),
          ),
          0,
        ];
    for (const [place, at] of starts.entries()) {
      if (signal?.aborted || (place === places && found.some(({ bytesPerFrame }) => bytesPerFrame.length > 0))) break;
      await withInput(
        source,
        (input, hands) =>
          run(
            ffmpeg,
            [
              '-v',
              'error',
              '-y',
              ...input,
              ...wanted.flatMap(({ output, tuning, index }) => [
                '-map',
                '0:v:0',
                '-filter:v',
                `${pictureFilters(output, tuning)}${lengthFor(output).every > 1 ? `,select='not(mod(n,${lengthFor(output).every}))',setpts=N` : ''}`,
                '-r',
                formatFraction(output.video.rate),
                ...encoderArguments(output, tuning, null),
                '-flags:v',
                '+global_header',
                '-pix_fmt',
                pixelFormat(output),
                '-frames:v',
                String(lengthFor(output).frames),
                '-f',
                'framecrc',
                `file:${under(folder, String(index))}`,
              ]),
            ],
            { timeoutMs: 300_000, signal, hands, memoryBytes: legMemory(plan) },
          ),
        { at },
      );
      for (const { index, output } of wanted) {
        const { from, to, every } = lengthFor(output);
        const sizes = packetSizes(await readFile(under(folder, String(index)), 'utf8').catch(() => '')).slice(from, to);
        const here = found[index];
        if (sizes.length === 0 || !here) continue;
        const mean = sizes.reduce((a, b) => a + b, 0) / sizes.length;
        // Pictures of a short one that are whole each are places of their own; what was encoded from end to end leaves
        // nothing open.
        here.bytesPerFrame.push(...(isShort && codecRow(output.codec).intra ? sizes : [mean]));
        here.whole = isShort && every === 1 && sizes.length >= output.video.frames - 1;
      }
    }
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
  return found.map(({ bytesPerFrame, whole }) =>
    bytesPerFrame.length > 0 ? { bytesPerFrame, ...(whole ? { whole } : {}) } : null,
  );
}

/** Sizes of the packets that FFmpeg's `framecrc` lists: stream, dts, pts, duration, size, checksum. */
export function packetSizes(text: string): number[] {
  return text
    .split('\n')
    .filter((line) => line !== '' && !line.startsWith('#'))
    .map((line) => Number(line.split(',')[4]))
    .filter((size) => Number.isFinite(size));
}
