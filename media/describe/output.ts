import {
  isRefusal,
  type ClipDescription,
  type ReadEntry,
  type Refusal,
  type StartTimecode,
} from '@relay/core/clip/description';
import { codecName } from '@relay/core/clip/formats';
import { membersOf, type Members } from '@relay/core/recipe/members';
import type { OutputPlan } from '@relay/core/recipe/legPlan';
import { wrappers } from '@relay/core/recipe/wrappers';
import { divide, formatFraction, rational } from '@relay/core/time/rational';
import { framesToTimecode } from '@relay/core/time/timecode';
import { readdir, stat } from 'node:fs/promises';
import { basename } from 'node:path';
import { under } from '@relay/core/naming/under';
import { memberName } from '../leg/open.ts';
import { materialOf } from '../leg/material.ts';
import { imagesArguments } from '../process/ffmpeg.ts';
import { describeFile } from './describe.ts';
import { sampleLayout } from './pixelFormat.ts';
import { probeOpened } from './probe.ts';

/**
 * Describes a made output, whether it is one file or a folder of files that belong together: these are described as
 * one.
 */
export async function describeOutput(output: OutputPlan, path: string): Promise<ReadEntry> {
  const members = membersOf(output);
  if (!members) return describeFile(path, output.path);
  return members.picture.kind === 'track'
    ? describeTracks(output, members, path)
    : describeImages(output, members.picture, members.sound, path);
}

function broken(output: OutputPlan, what: string): Refusal {
  return {
    path: output.path,
    sizeBytes: 0,
    problem: { kind: 'broken', what: `${output.path}: ${what}`, remedy: 'Retry its leg to make it again' },
  };
}

/** What all members of a set say alike; null where they do not. */
function agreed<T>(values: readonly T[]): T | null {
  const [first] = values;
  return first !== undefined && values.every((value) => JSON.stringify(value) === JSON.stringify(first)) ? first : null;
}

async function describeTracks(output: OutputPlan, members: Members, path: string): Promise<ReadEntry> {
  const names = [members.picture.kind === 'track' ? members.picture.name : '', ...members.sound];
  const found: ClipDescription[] = [];
  for (const name of names) {
    const entry = await describeFile(under(path, name), `${output.path}/${name}`);
    if (isRefusal(entry)) return entry;
    found.push(entry);
  }
  const materials = await Promise.all(
    names.map(async (name) => (await materialOf(under(path, name)))?.toString('hex') ?? name),
  );
  if (agreed(materials) === null) return broken(output, 'its files do not belong to one clip');
  const others = (await readdir(path)).filter((name) => !names.includes(name));
  if (others.length > 0) return broken(output, `${others[0]} does not belong there`);
  const [seen] = found as [ClipDescription, ...ClipDescription[]];
  const odd = found.find((one) => one.wrapperId !== seen.wrapperId) ?? seen;
  return {
    ...seen,
    path: output.path,
    stem: basename(output.path),
    sizeBytes: found.reduce((sum, one) => sum + one.sizeBytes, 0),
    wrapper: odd.wrapper,
    wrapperId: odd.wrapperId,
    audio: found.slice(1).flatMap((one) => one.audio),
    timecode: agreed(found.map((one) => one.timecode)),
    reel: agreed(found.map((one) => one.reel)),
    cutShort: found.find((one) => one.cutShort)?.cutShort ?? null,
  };
}

/** The numbers of images in a folder, in order; null where something else lies among them. */
function numbersOf(
  names: readonly string[],
  { before, digits, after }: Extract<Members['picture'], { kind: 'numbered' }>,
): number[] | null {
  const numbers = names.map((name) =>
    name.startsWith(before) && name.endsWith(after) && name.length === before.length + digits + after.length
      ? Number(name.slice(before.length, before.length + digits))
      : Number.NaN,
  );
  return numbers.some((number) => !Number.isInteger(number)) ? null : numbers.sort((a, b) => a - b);
}

/**
 * Images carry neither rate nor timecode: the rate is the plan's, the timecode is what their numbers say. Their own
 * colour tags are FFmpeg's guesses, and not taken for anything.
 */
// eslint-disable-next-line complexity -- a list of what may be wrong with a folder of images, in the order that it is seen
async function describeImages(
  output: OutputPlan,
  picture: Extract<Members['picture'], { kind: 'numbered' }>,
  sound: readonly string[],
  path: string,
): Promise<ReadEntry> {
  const { rate } = output.video;
  const all = await readdir(path).catch(() => null);
  if (!all) return broken(output, 'it is not there');
  const names = all.filter((name) => !sound.includes(name));
  const numbers = numbersOf(names, picture);
  if (!numbers) return broken(output, 'something lies among its images');
  const first = numbers[0];
  if (first === undefined) return broken(output, 'it holds no images');
  const gap = numbers.findIndex((number, index) => number !== first + index);
  if (gap >= 0) return broken(output, `image ${first + gap} is missing`);
  const probed = await probeOpened(
    imagesArguments(under(path.replaceAll('%', '%%'), memberName(picture)), first, formatFraction(rate)),
  );
  const stream = probed?.streams.find((one) => one.codec_type === 'video');
  if (!stream?.pix_fmt || !stream.width || !stream.height) return broken(output, 'its images do not decode');
  const wave = sound[0] === undefined ? null : await describeFile(under(path, sound[0]), `${output.path}/${sound[0]}`);
  if (wave && isRefusal(wave)) return wave;
  const sizes = await Promise.all([...names, ...sound].map(async (name) => (await stat(under(path, name))).size));
  const label = output.timecode ? framesToTimecode(first, rate, output.timecode.dropFrame) : null;
  const timecode: StartTimecode | null = label?.ok
    ? { start: label.value.text, dropFrame: label.value.dropFrame }
    : null;
  const { name, wrapperId } = wrappers[output.wrapper];
  return {
    path: output.path,
    stem: basename(output.path),
    sizeBytes: sizes.reduce((a, b) => a + b, 0),
    modifiedAt: (await stat(path)).mtime.toISOString(),
    wrapper: name,
    wrapperId,
    video: {
      codec: codecName(stream.codec_name ?? ''),
      codecId: stream.codec_name ?? 'unknown',
      profile: null,
      raster: { width: stream.width, height: stream.height },
      pixelAspect: rational(1),
      pixelAspectTagged: false,
      scan: 'progressive',
      rate,
      rateConstant: true,
      rateVaries: null,
      ...sampleLayout(stream.pix_fmt),
      colour: { primaries: null, transfer: null, matrix: null, range: 'full' },
      quarterTurns: 0,
      frames: numbers.length,
      duration: divide(rational(numbers.length), rate),
      start: rational(0),
      bitsPerSecond: null,
    },
    audio: wave?.audio ?? [],
    timecode,
    reel: null,
    ...(wave?.timeReference === undefined ? {} : { timeReference: wave.timeReference }),
    bitsPerSecond: null,
    otherStreams: [],
    cutShort: null,
    chapters: [],
  };
}
