import type { StartTimecode, VideoDescription } from '@relay/core/clip/description';
import type { Measured, Packet } from '@relay/core/measure/measured';
import { toNumber } from '@relay/core/time/rational';
import { framesToTimecode, timecodeToFrames } from '@relay/core/time/timecode';
import { probeFile } from '../describe/probe.ts';
import { ffprobe, inputArguments } from '../process/ffmpeg.ts';
import { run, type RunOptions } from '../process/run.ts';

/** Every packet of a file's picture, in stored order; `after` seconds are added to their times. */
export async function picturePackets(path: string, after = 0): Promise<Packet[]> {
  return packetsOf(inputArguments(path), after);
}

/** Every packet of what `input` opens. */
export async function packetsOf(
  input: readonly string[],
  after = 0,
  more: Pick<RunOptions, 'hands' | 'signal'> = {},
): Promise<Packet[]> {
  const packets: Packet[] = [];
  await run(
    ffprobe,
    [
      '-v',
      'error',
      '-select_streams',
      'v:0',
      '-show_entries',
      'packet=pts_time,dts_time,size,flags',
      '-of',
      'compact=p=0',
      ...input,
    ],
    {
      ...more,
      timeoutMs: 3_600_000,
      onLine: (line) => {
        const fields = Object.fromEntries(line.split('|').map((field) => field.split('=') as [string, string]));
        const seconds = Number(fields.pts_time ?? fields.dts_time);
        if (fields.flags?.includes('D') || !fields.size) return;
        packets.push({
          seconds: (Number.isFinite(seconds) ? seconds : (packets.at(-1)?.seconds ?? 0)) + after,
          bytes: Number(fields.size),
          whole: fields.flags?.startsWith('K') ?? false,
        });
      },
    },
  );
  return packets;
}

/**
 * The second of each picture of a clip's files, in the order in which they are shown. `lengths` are the files' seconds
 * where there are several.
 */
export async function frameTimes(paths: readonly string[], lengths: readonly number[]): Promise<number[]> {
  const all: number[] = [];
  let after = 0;
  for (const [index, path] of paths.entries()) {
    for (const { seconds } of await picturePackets(path, after)) all.push(seconds);
    after += lengths[index] ?? 0;
  }
  return all.sort((a, b) => a - b);
}

/**
 * Breaks in the timecode track of a MOV or MP4: each of its samples states a frame number (QuickTime File Format,
 * timecode media), and a second one that does not go on from the first is a break.
 */
export async function timecodeBreaks(
  path: string,
  video: VideoDescription,
  start: StartTimecode,
): Promise<Measured['timecodeBreaks']> {
  const { probed } = await probeFile(path);
  const track = probed?.streams.find((stream) => stream.codec_tag_string === 'tmcd');
  if (!track || Number(track.nb_frames ?? 1) < 2) return [];
  const ended = await run(
    ffprobe,
    [
      '-v',
      'error',
      '-select_streams',
      String(track.index),
      '-show_packets',
      '-show_data',
      '-of',
      'json',
      ...inputArguments(path),
    ],
    { timeoutMs: 120_000 },
  );
  const packets =
    (JSON.parse(ended.stdout || '{}') as { packets?: { pts_time?: string; data?: string }[] }).packets ?? [];
  const first = timecodeToFrames(start.start, video.rate);
  if (!first.ok) return [];
  const label = (frames: number): string => {
    const made = framesToTimecode(frames, video.rate, start.dropFrame);
    return made.ok ? made.value.text : String(frames);
  };
  let [at, stands] = [0, first.value];
  const breaks: Measured['timecodeBreaks'] = [];
  for (const packet of packets) {
    const hex = /(?:^|\n)0{8}: ([0-9a-f]{4}) ([0-9a-f]{4})/.exec(packet.data ?? '');
    if (!hex) continue;
    const found = Number.parseInt(`${hex[1]}${hex[2]}`, 16);
    const frame = Math.round(Number(packet.pts_time ?? 0) * toNumber(video.rate));
    const expected = stands + (frame - at);
    if (found !== expected && frame > 0) breaks.push({ frame, found: label(found), expected: label(expected) });
    [at, stands] = [frame, found];
  }
  return breaks;
}
