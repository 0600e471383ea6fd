import { ffprobe, inputArguments } from '../process/ffmpeg.ts';
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

async function probeJson(input: string | readonly string[], args: readonly string[]): Promise<{ json: Record<string, unknown> | null; stderr: string }> {
  const ended = await run(ffprobe, ['-v', 'error', '-of', 'json', ...args, ...(typeof input === 'string' ? inputArguments(input) : input)], { timeoutMs, endWithParent: false });
  if (ended.code !== 0) return { json: null, stderr: ended.stderr };
  return { json: JSON.parse(ended.stdout) as Record<string, unknown>, stderr: ended.stderr };
}

/** Packets in which the first picture is looked for at once: in most files it is the very first. One decoder thread, for one picture. */
const firstPackets = 2;

/**
 * Streams and wrapper of a file, and its first decoded picture if it comes early enough: one process for all, since
 * starting one costs more than what it does. Null with what FFmpeg said when the file cannot be opened.
 */
export async function probeFile(path: string): Promise<{ probed: Probed | null; frame: ProbedFrame | null; stderr: string }> {
  const { json, stderr } = await probeJson(path, [
    '-threads', '1', '-show_streams', '-show_format', '-show_frames', '-show_entries', 'frame=media_type,pix_fmt,interlaced_frame,top_field_first', '-read_intervals', `%+#${firstPackets}`,
  ]);
  if (!json || !Array.isArray(json.streams)) return { probed: null, frame: null, stderr };
  const probed = json as unknown as Probed;
  const frame = ((json.frames ?? []) as (ProbedFrame & { media_type?: string })[]).find((one) => one.media_type === 'video' && one.pix_fmt !== undefined) ?? null;
  // Some wrappers shout their tags (TIMECODE), some whisper them.
  for (const holder of [probed.format, ...probed.streams]) {
    if (holder.tags) holder.tags = Object.fromEntries(Object.entries(holder.tags).map(([name, value]) => [name.toLowerCase(), value]));
  }
  return { probed, frame, stderr };
}

/** Streams of what is opened otherwise than as one file. */
export async function probeOpened(input: readonly string[]): Promise<Probed | null> {
  const { json } = await probeJson(input, ['-show_streams', '-show_format']);
  return json && Array.isArray(json.streams) ? (json as unknown as Probed) : null;
}

/** The first decoded picture's own flags; null when not one picture decodes. */
export async function probeFirstFrame(path: string): Promise<{ frame: ProbedFrame | null; stderr: string }> {
  const { json, stderr } = await probeJson(path, [
    '-select_streams', 'v:0', '-read_intervals', '%+#8', '-show_entries', 'frame=pix_fmt,interlaced_frame,top_field_first',
  ]);
  const frames = (json?.frames ?? []) as ProbedFrame[];
  return { frame: frames.find((frame) => frame.pix_fmt !== undefined) ?? null, stderr };
}

/** Presentation times of the picture's packets, in ticks of its time base; demuxes the file from end to end. */
export async function probeTicks(path: string): Promise<{ ticks: number[]; lastDuration: number }> {
  const { json } = await probeJson(path, ['-select_streams', 'v:0', '-show_entries', 'packet=pts,dts,duration,flags']);
  const packets = (json?.packets ?? []) as { pts?: number; dts?: number; duration?: number; flags?: string }[];
  // `D` marks packets that an edit list or the wrapper tells a player to discard.
  const shown = packets.filter((packet) => !packet.flags?.includes('D'));
  const ticks = shown.map((packet) => packet.pts ?? packet.dts).filter((tick): tick is number => tick !== undefined);
  return { ticks, lastDuration: shown.at(-1)?.duration ?? 0 };
}
