import { ffprobe, inputArguments, largestPicture } from '../process/ffmpeg.ts';
import { Gate } from '../process/gate.ts';
import { run } from '../process/run.ts';

/** What ffprobe prints, as far as it is used; every field may be absent. */
export interface ProbedStream {
  index: number;
  codec_type?: string;
  codec_name?: string;
  codec_tag_string?: string;
  profile?: string;
  width?: number;
  height?: number;
  sample_aspect_ratio?: string;
  pix_fmt?: string;
  field_order?: string;
  color_range?: string;
  color_space?: string;
  color_transfer?: string;
  color_primaries?: string;
  r_frame_rate?: string;
  avg_frame_rate?: string;
  time_base?: string;
  start_pts?: number;
  duration_ts?: number;
  duration?: string;
  nb_frames?: string;
  nb_read_packets?: string;
  bit_rate?: string;
  bits_per_raw_sample?: string;
  bits_per_sample?: number;
  sample_fmt?: string;
  sample_rate?: string;
  channels?: number;
  channel_layout?: string;
  tags?: Record<string, string>;
  disposition?: Record<string, number>;
  side_data_list?: { side_data_type?: string; rotation?: number }[];
}

export interface ProbedFormat {
  format_name?: string;
  start_time?: string;
  duration?: string;
  bit_rate?: string;
  tags?: Record<string, string>;
}

export interface ProbedFrame {
  pix_fmt?: string;
  interlaced_frame?: number;
  top_field_first?: number;
}

export interface Probed {
  streams: ProbedStream[];
  format: ProbedFormat;
}

const timeoutMs = 120_000;

/**
 * Describing has a budget: pictures up to 8192 × 4320 are decoded with little memory, several files at a time; larger
 * ones, which a file of a few megabytes can claim to hold, one at a time.
 */
const [usualPicture, usualMemory, heavyMemory] = [8_192 * 4_320, 1.5 * 2 ** 30, 4 * 2 ** 30];
const heavy = new Gate(1);

/** What FFmpeg says of a picture that has more samples than it was allowed (libavutil, imgutils). */
export const tooLarge = /exceeds specified max pixel count|Picture size \d+x\d+ is invalid/;

async function probeJson(
  input: string | readonly string[],
  args: readonly string[],
): Promise<{ json: Record<string, unknown> | null; stderr: string }> {
  const ask = async (
    largest: number,
    memoryBytes: number,
  ): Promise<{ json: Record<string, unknown> | null; stderr: string }> => {
    const opened = typeof input === 'string' ? inputArguments(input, largest) : input;
    const ended = await run(ffprobe, ['-v', 'error', '-of', 'json', ...args, ...opened], { timeoutMs, memoryBytes });
    // What does not parse was broken off by a limit.
    return { json: ended.code === 0 ? parsed(ended.stdout) : null, stderr: ended.stderr };
  };
  const asked = await ask(usualPicture, usualMemory);
  return tooLarge.test(asked.stderr)
    ? heavy.through('probe', undefined, () => ask(largestPicture, heavyMemory))
    : asked;
}

function parsed(text: string): Record<string, unknown> | null {
  try {
    return JSON.parse(text) as Record<string, unknown>;
  } catch {
    return null;
  }
}

/**
 * Packets in which the first picture is looked for at once: in most files it is the very first. One decoder thread, for
 * one picture.
 */
const firstPackets = 2;

/**
 * Streams and wrapper of a file, and its first decoded picture if it comes early enough: one process for all, since
 * starting one costs more than what it does. Null with what FFmpeg said when the file cannot be opened.
 */
export async function probeFile(
  path: string,
): Promise<{ probed: Probed | null; frame: ProbedFrame | null; stderr: string }> {
  const { json, stderr } = await probeJson(path, [
    '-threads',
    '1',
    '-show_streams',
    '-show_format',
    '-show_frames',
    '-show_entries',
    'frame=media_type,pix_fmt,interlaced_frame,top_field_first',
    '-read_intervals',
    `%+#${firstPackets}`,
  ]);
  if (!json || !Array.isArray(json.streams)) return { probed: null, frame: null, stderr };
  const probed = json as unknown as Probed;
  const frame =
    ((json.frames ?? []) as (ProbedFrame & { media_type?: string })[]).find(
      (one) => one.media_type === 'video' && one.pix_fmt !== undefined,
    ) ?? null;
  // Some wrappers shout their tags (TIMECODE), some whisper them.
  for (const holder of [probed.format, ...probed.streams]) {
    if (holder.tags)
      holder.tags = Object.fromEntries(Object.entries(holder.tags).map(([name, value]) => [name.toLowerCase(), value]));
  }
  return { probed, frame, stderr };
}

/** Streams of what is opened otherwise than as one file. */
export async function probeOpened(input: readonly string[]): Promise<Probed | null> {
  const { json } = await probeJson(input, ['-show_streams', '-show_format']);
  return json && Array.isArray(json.streams) ? (json as unknown as Probed) : null;
}

/**
 * The first decoded picture's own flags; null when not one picture decodes. `editLists`: the wrapper may tell a player
 * to begin late, so far in that no picture is shown of the first packets; then what it leaves out is looked at too.
 */
export async function probeFirstFrame(
  path: string,
  editLists: boolean,
): Promise<{ frame: ProbedFrame | null; stderr: string }> {
  const { json, stderr } = await probeJson(path, [
    ...(editLists ? ['-ignore_editlist', '1'] : []),
    '-threads',
    '1',
    '-select_streams',
    'v:0',
    '-read_intervals',
    '%+#8',
    '-show_entries',
    'frame=pix_fmt,interlaced_frame,top_field_first',
  ]);
  const frames = (json?.frames ?? []) as ProbedFrame[];
  return { frame: frames.find((frame) => frame.pix_fmt !== undefined) ?? null, stderr };
}

/** More pictures than this are in no clip: a day of 120 a second has ten million. */
const mostTicks = 12_000_000;

/**
 * Presentation times of the picture's packets, in ticks of its time base; demuxes the file from end to end, a packet at
 * a time.
 */
export async function probeTicks(path: string): Promise<{ ticks: number[]; lastDuration: number }> {
  const ticks: number[] = [];
  let lastDuration = 0;
  await run(
    ffprobe,
    [
      '-v',
      'error',
      '-select_streams',
      'v:0',
      '-show_entries',
      'packet=pts,dts,duration,flags',
      '-of',
      'compact=p=0',
      ...inputArguments(path),
    ],
    {
      timeoutMs: 3_600_000,
      onLine: (line) => {
        const packet = Object.fromEntries(line.split('|').map((field) => field.split('=') as [string, string]));
        // `D` marks packets that an edit list or the wrapper tells a player to discard.
        if (packet.flags === undefined || packet.flags.includes('D') || ticks.length >= mostTicks) return;
        lastDuration = numberOr(packet.duration, 0);
        const tick = numberOr(packet.pts, numberOr(packet.dts, Number.NaN));
        if (Number.isFinite(tick)) ticks.push(tick);
      },
    },
  );
  return { ticks, lastDuration };
}

/** ffprobe writes `N/A` for what is not there. */
function numberOr(text: string | undefined, otherwise: number): number {
  const value = Number(text);
  return text !== undefined && Number.isFinite(value) ? value : otherwise;
}
