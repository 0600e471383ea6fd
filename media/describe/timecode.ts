import type { StartTimecode } from '@relay/core/clip/description';
import { labelAt } from '@relay/core/time/labelAt';
import { nominalFramesPerSecond, snapRate } from '@relay/core/time/rate';
import { parseRational, type Rational } from '@relay/core/time/rational';
import { droppedPerMinute, framesToTimecode } from '@relay/core/time/timecode';
import { ffmpeg, inputArguments } from '../process/ffmpeg.ts';
import { run } from '../process/run.ts';
import type { Probed, ProbedStream } from './probe.ts';

const label = /^\d{2}:\d{2}:\d{2}[:;.]\d{2,3}$/;

/**
 * The first frame number of a timecode track (QuickTime File Format, timecode media: four bytes, the highest first).
 * FFmpeg says no label of a track that claims drop-frame at a rate without it; the number is there all the same. Null
 * where it cannot be read.
 */
async function firstNumber(path: string, stream: number): Promise<number | null> {
  let bytes = Buffer.alloc(0);
  // Whatever else a stranger's track holds is let go.
  await run(
    ffmpeg,
    [
      '-v',
      'error',
      ...inputArguments(path),
      '-map',
      `0:${stream}`,
      '-c',
      'copy',
      '-frames:d',
      '1',
      '-f',
      'data',
      'pipe:1',
    ],
    {
      timeoutMs: 60_000,
      onData: (chunk) => {
        if (bytes.length < 4) bytes = Buffer.concat([bytes, chunk.subarray(0, 4)]);
      },
    },
  );
  return bytes.length >= 4 ? bytes.readUInt32BE(0) : null;
}

function rateOf(track: ProbedStream): Rational | null {
  const parsed = parseRational(track.avg_frame_rate ?? '');
  return parsed.ok && parsed.value.num > 0 && parsed.value.den > 0 ? snapRate(parsed.value) : null;
}

/**
 * Where a file's timecode starts, as a label at the rate of its pictures. A timecode track counts at a rate of its own:
 * where that is another, or drop-frame is claimed where there is none, what was written is kept beside it.
 */
export async function startTimecode(
  path: string,
  probed: Probed,
  picture: ProbedStream | undefined,
  rate: Rational | null,
): Promise<StartTimecode | null> {
  const track = probed.streams.find((stream) => stream.codec_tag_string === 'tmcd');
  const own = track ? rateOf(track) : null;
  if (track && own && track.tags?.timecode === undefined) {
    const number = droppedPerMinute(own) === 0 ? await firstNumber(path, track.index) : null;
    const counted = number === null ? null : framesToTimecode(number, own);
    if (counted?.ok) return atPictures(counted.value.text, own, rate, true);
  }
  const text = track?.tags?.timecode ?? picture?.tags?.timecode ?? probed.format.tags?.timecode;
  if (!text || !label.test(text)) return null;
  const start = text.replace(/[;.](\d+)$/, ';$1');
  return own ? atPictures(start, own, rate, false) : { start, dropFrame: start.includes(';') };
}

/** A track's label at the rate of the pictures. */
function atPictures(start: string, own: Rational, rate: Rational | null, dropClaimed: boolean): StartTimecode {
  const dropFrame = start.includes(';');
  const same = rate === null || nominalFramesPerSecond(own) === nominalFramesPerSecond(rate);
  const there = same ? null : labelAt(start, own, rate);
  if (there?.ok)
    return { start: there.value.text, dropFrame: there.value.dropFrame, written: { start, rate: own, dropClaimed } };
  return { start, dropFrame, ...(dropClaimed ? { written: { start, rate: own, dropClaimed } } : {}) };
}
