import type { AudioTrack } from '@relay/core/clip/description';
import { SoundMeter, type Outline } from '@relay/core/measure/sound';
import type { ChannelMeasure } from '@relay/core/measure/measured';
import { toNumber } from '@relay/core/time/rational';
import { complaints, ffmpeg, inputArguments } from '../process/ffmpeg.ts';
import { run } from '../process/run.ts';

/**
 * Decodes all sound of a clip's files from end to end and measures every channel. Tracks of one rate are decoded
 * together and merged in order; others one after the other.
 */
export async function lookAtSound(
  paths: readonly string[],
  tracks: readonly AudioTrack[],
): Promise<{ channels: ChannelMeasure[]; outlines: Outline[]; errors: string[] }> {
  const all: { channels: ChannelMeasure[]; outlines: Outline[]; errors: string[] } = {
    channels: [],
    outlines: [],
    errors: [],
  };
  const heard = tracks.map((track, index) => ({ track, index })).filter(({ track }) => track.channels > 0);
  const oneRate =
    new Set(heard.map(({ track }) => track.sampleRate)).size === 1 &&
    heard.reduce((sum, { track }) => sum + track.channels, 0) <= 64;
  for (const group of oneRate ? [heard] : heard.map((one) => [one])) {
    if (group.length === 0) continue;
    const where = group.flatMap(({ track, index }) =>
      Array.from({ length: track.channels }, (_, channel) => ({ track: index, channel })),
    );
    const first = (group[0] as { track: AudioTrack }).track;
    const seconds = Math.max(...group.map(({ track }) => (track.duration ? toNumber(track.duration) : 0)));
    const meter = new SoundMeter(
      where.length,
      Math.max(1, Math.round(seconds * first.sampleRate)),
      undefined,
      first.sampleRate,
    );
    for (const path of paths) {
      const inputs = group.map(({ index }) => `[0:a:${index}]`).join('');
      // Bytes come in pieces that end anywhere; the rest of a sample waits for the next piece.
      let rest: Buffer = Buffer.alloc(0);
      const step = where.length * 2;
      const ended = await run(
        ffmpeg,
        [
          '-hide_banner',
          '-nostats',
          '-v',
          'error',
          ...inputArguments(path),
          '-filter_complex',
          group.length > 1 ? `${inputs}amerge=inputs=${group.length}[out]` : `${inputs}anull[out]`,
          '-map',
          '[out]',
          '-f',
          's16le',
          '-c:a',
          'pcm_s16le',
          'pipe:1',
        ],
        {
          timeoutMs: 3_600_000,
          onData: (chunk) => {
            const joined = rest.length > 0 ? Buffer.concat([rest, chunk]) : chunk;
            const whole = joined.length - (joined.length % step);
            const aligned = new Uint8Array(joined.subarray(0, whole));
            meter.take(new Int16Array(aligned.buffer, 0, whole / 2));
            rest = joined.subarray(whole);
          },
        },
      );
      all.errors.push(
        ...complaints(
          ended.stderr
            .split('\n')
            .filter((line) => !/amerge/.test(line))
            .join('\n'),
        ),
      );
    }
    all.channels.push(...meter.measures((channel) => where[channel] as { track: number; channel: number }));
    all.outlines.push(...meter.outlines());
  }
  return all;
}
