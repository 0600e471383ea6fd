import type { ClipDescription } from '@relay/core/clip/description';
import { fittedWithin, turned } from '@relay/core/shape/raster';
import { invert } from '@relay/core/time/rational';
import { ffmpeg, inputArguments } from './process/ffmpeg.ts';
import { run } from './process/run.ts';

/** How what is watched as it is made is encoded. */
export const lightPicture = [
  '-c:v',
  'libx264',
  '-preset',
  'ultrafast',
  '-tune',
  'zerolatency',
  '-crf',
  '26',
  '-g',
  '48',
];
export const lightSound = ['-c:a', 'aac', '-b:a', '160k'];

/**
 * And how it is handed on: in pieces of a quarter of a second. What says where they begin waits for the first of them,
 * so that it can say how early coded sound begins; pictures would be moved by that else, all but the first.
 */
export const inPieces = [
  '-movflags',
  'frag_keyframe+empty_moov+default_base_moof+delay_moov',
  '-frag_duration',
  '250000',
  '-f',
  'mp4',
  'pipe:1',
];

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
  const tracks = audio.map(({ channels }, index) => ({ stream: `0:a:${index}`, channels }));
  const sound = audio.length > 0 ? [`${heard(tracks, channel)}[s]`] : [];
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
      ...(video ? ['-map', '[v]', ...lightPicture] : []),
      ...(sound.length > 0 ? ['-map', '[s]', ...lightSound] : []),
      ...inPieces,
    ],
    { signal, onData },
  );
}

/** A sound track as a graph is told of it. */
interface Track {
  /** As `0:a:1`: input, kind, number. */
  stream: string;
  channels: number;
}

/**
 * The beginning of a graph that lets one channel be heard on both sides, counted over all tracks, or all of them mixed,
 * each at the same strength; 48 kHz.
 */
export function heard(tracks: readonly Track[], channel: number | null): string {
  const places = tracks.flatMap(({ stream, channels }) =>
    Array.from({ length: channels }, (_, inTrack) => ({ stream, inTrack })),
  );
  const alone = channel === null ? null : places[channel];
  if (alone) return `[${alone.stream}]pan=stereo|c0=c${alone.inTrack}|c1=c${alone.inTrack},aresample=48000`;
  const merged = tracks.length > 1 ? `amerge=inputs=${tracks.length},` : '';
  const sides = ['c0', 'c1'].map((side) => `${side}=${mixOf(places.length, side)}`).join('|');
  return `${tracks.map(({ stream }) => `[${stream}]`).join('')}${merged}pan=stereo|${sides},aresample=48000`;
}

/** Odd channels left, even ones right, one alone on both; none louder than another. */
function mixOf(channels: number, side: string): string {
  const mine = Array.from({ length: channels }, (_, index) => index).filter(
    (index) => channels === 1 || index % 2 === (side === 'c0' ? 0 : 1),
  );
  return mine.map((index) => `${(1 / mine.length).toFixed(4)}*c${index}`).join('+');
}
