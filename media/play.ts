import type { ClipDescription } from '@relay/core/clip/description';
import { fittedWithin, turned } from '@relay/core/shape/raster';
import { invert } from '@relay/core/time/rational';
import { ffmpeg, inputArguments } from './process/ffmpeg.ts';
import { run } from './process/run.ts';

/**
 * Makes a light stream of a clip as it is watched: fragmented MP4 with H.264 and AAC, from `seconds` on, handed on
 * piece by piece. `channel` lets one channel be heard alone on both sides, counted over all tracks; otherwise all are
 * mixed, each at the same strength. Ends when aborted.
 */
export async function playStream(
  path: string,
  clip: ClipDescription,
  { seconds, channel }: { seconds: number; channel: number | null },
  onData: (chunk: Buffer) => Promise<void> | void,
  signal: AbortSignal,
): Promise<void> {
  const { video, audio } = clip;
  const places = audio.flatMap((track, index) =>
    Array.from({ length: track.channels }, (_, inTrack) => ({ index, inTrack })),
  );
  const alone = channel === null ? null : places[channel];
  const sound = alone
    ? [`[0:a:${alone.index}]pan=stereo|c0=c${alone.inTrack}|c1=c${alone.inTrack},aresample=48000[s]`]
    : places.length > 0
      ? [
          `${audio.map((_, index) => `[0:a:${index}]`).join('')}${audio.length > 1 ? `amerge=inputs=${audio.length},` : ''}pan=stereo|${['c0', 'c1'].map((side) => `${side}=${mixOf(places.length, side)}`).join('|')},aresample=48000[s]`,
        ]
      : [];
  const picture: string[] = [];
  if (video) {
    const upright = turned(video.raster, video.quarterTurns);
    const aspect = video.quarterTurns % 2 === 0 ? video.pixelAspect : invert(video.pixelAspect);
    const { raster } = fittedWithin(upright, aspect, { width: 960, height: 540 }, { widthStep: 2, heightStep: 2 });
    const fields = video.scan === 'progressive' ? '' : 'bwdif=mode=send_frame:deint=all,';
    picture.push(
      `[0:v:0]${fields}scale=${raster.width}:${raster.height}:flags=bilinear:out_range=tv:out_color_matrix=bt709,format=yuv420p,setsar=1[v]`,
    );
  }
  await run(
    ffmpeg,
    [
      '-hide_banner',
      '-nostats',
      '-v',
      'error',
      '-ss',
      seconds.toFixed(3),
      ...inputArguments(path),
      '-filter_complex',
      [...picture, ...sound].join(';'),
      ...(video
        ? ['-map', '[v]', '-c:v', 'libx264', '-preset', 'ultrafast', '-tune', 'zerolatency', '-crf', '26', '-g', '48']
        : []),
      ...(sound.length > 0 ? ['-map', '[s]', '-c:a', 'aac', '-b:a', '160k'] : []),
      '-movflags',
      'frag_keyframe+empty_moov+default_base_moof',
      '-frag_duration',
      '250000',
      '-f',
      'mp4',
      'pipe:1',
    ],
    { signal, onData },
  );
}

/** Odd channels left, even ones right, one alone on both; none louder than another. */
function mixOf(channels: number, side: string): string {
  const mine = Array.from({ length: channels }, (_, index) => index).filter(
    (index) => channels === 1 || index % 2 === (side === 'c0' ? 0 : 1),
  );
  return mine.map((index) => `${(1 / mine.length).toFixed(4)}*c${index}`).join('+');
}
