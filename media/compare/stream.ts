import { once } from 'node:events';
import { stacked } from '@relay/core/shape/stacked';
import { formatFraction, toNumber, type Rational } from '@relay/core/time/rational';
import { ffmpeg } from '../process/ffmpeg.ts';
import { run, type RunOptions } from '../process/run.ts';
import { heard, inPieces, lightPicture, lightSound } from '../play.ts';
import { openedAt } from './opened.ts';
import type { Side } from './side.ts';
import { toLookAt } from './small.ts';

/** Two sides beside each other, at the frames and the rate of the first. */
export interface Pair {
  first: Side;
  second: Side;
  rate: Rational;
  /** Frames that the first has. */
  frames: number;
}

/** What of a pair is played. */
export interface Played {
  /** The frame that is shown first, and the one behind the last; played backwards, the one before the last, or -1. */
  from: number;
  to: number;
  /** Every frame, or every second, fourth …: so many times as fast. */
  every: number;
  /** Which side is heard, and which of its channels alone. */
  sound: { of: 'first' | 'second'; channel: number | null } | null;
}

/** A side small enough to be played, in BT.709 and legal range whatever it was. */
function light({ samples, light: { width, height } }: Side, wide: number): string[] {
  return [
    toLookAt(samples, { width, height }, { matrix: 'bt709', range: 'tv', how: 'fast_bilinear' }),
    'format=yuv420p',
    'setsar=1',
    ...(width < wide ? [`pad=${wide}:${height}:0:0`] : []),
  ];
}

/**
 * What is large is decoded without smoothing the edges of its blocks, which takes an eighth of the time: at a quarter of
 * its width nobody sees them.
 */
function hurried({ raster }: Side): string[] {
  return raster.width > 2 * 1024 ? ['-skip_loop_filter', 'all'] : [];
}

/** Both sides in one picture from a frame on: inputs, and the graph that ends in `[v]`. */
function pictures({ first, second }: Pair, from: number, every: number, whole: boolean) {
  const { raster } = stacked(first.light, second.light);
  const [a, b] = [openedAt(first, from, whole), openedAt(second, from, whole)];
  const skip = every > 1 ? [`select='not(mod(pts,${every}))'`, `setpts=PTS/${every}`] : [];
  const side = (which: Side, filters: string[], input: number): string =>
    `[${input}:v:0]${[...filters, ...skip, ...light(which, raster.width)].join(',')}[${input}]`;
  return {
    args: [...hurried(first), ...a.args, ...hurried(second), ...b.args],
    raster,
    graph: [side(first, a.filters, 0), side(second, b.filters, 1)],
    stack: '[0][1]vstack=inputs=2:shortest=1',
  };
}

/** The same stream behind so many inputs more. */
function behind(stream: string, inputs: number): string {
  const [input, ...rest] = stream.split(':');
  return [Number(input) + inputs, ...rest].join(':');
}

/** Every input sought. */
function sought(args: readonly string[], seconds: number): string[] {
  const found: string[] = [];
  let from = 0;
  for (let at = args.indexOf('-i'); at >= 0; at = args.indexOf('-i', at + 1)) {
    found.push(...(seconds > 0 ? ['-ss', seconds.toFixed(6)] : []), ...args.slice(from, at + 2));
    from = at + 2;
  }
  return found;
}

/** Sound as fast as its pictures, its pitch kept; FFmpeg's filter takes factors from a half to a hundred. */
function tempo(factor: number): string[] {
  if (Math.abs(factor - 1) < 1e-6) return [];
  const steps = Math.max(1, Math.ceil(Math.log(factor) / Math.log(0.5)));
  const each = factor ** (1 / steps);
  return Array.from({ length: factor < 1 ? steps : 1 }, () => `atempo=${(factor < 1 ? each : factor).toFixed(9)}`);
}

/** Silence before sound that begins late and behind one that ends early: a browser shows no picture where it is none. */
const always = ['aresample=async=1:first_pts=0', 'apad'];

/** What is heard of a side from a frame on; null where it has no sound. */
function sounds(pair: Pair, { from, every, sound }: Played): { args: string[]; graph: string } | null {
  const side = sound ? pair[sound.of] : null;
  if (!sound || !side || side.sound.tracks.length === 0) return null;
  const tracks = side.sound.tracks.map(({ stream, channels }) => ({ stream: behind(stream, 2), channels }));
  const seconds = (from / toNumber(pair.rate)) * side.pace + side.startSeconds;
  return {
    args: sought(side.sound.input, seconds),
    graph: `${[heard(tracks, sound.channel), ...tempo(side.pace * every), ...always].join(',')}[s]`,
  };
}

/** Tags of what {@link light} makes. */
const lightTags = ['-colorspace', 'bt709', '-color_primaries', 'bt709', '-color_trc', 'bt709', '-color_range', 'tv'];

type OnData = NonNullable<RunOptions['onData']>;

/**
 * Makes a light stream of two sides in one picture as it is watched, forwards: fragmented MP4, each frame at its own
 * time of the first side's rate, handed on piece by piece. Ends when aborted.
 */
export async function playPair(pair: Pair, played: Played, onData: OnData, signal: AbortSignal): Promise<void> {
  const { from, to, every } = played;
  const count = Math.ceil(Math.max(0, to - from) / every);
  let any = false;
  const play = async (whole: boolean): Promise<void> => {
    const seen = pictures(pair, from, every, whole);
    const listened = sounds(pair, played);
    await run(
      ffmpeg,
      [
        ...['-hide_banner', '-nostats', '-v', 'error'],
        ...seen.args,
        ...(listened?.args ?? []),
        '-filter_complex',
        [...seen.graph, `${seen.stack}[v]`, ...(listened ? [listened.graph] : [])].join(';'),
        ...['-map', '[v]', '-frames:v', String(count), '-fps_mode', 'passthrough', ...lightPicture, ...lightTags],
        ...(listened ? ['-map', '[s]', ...lightSound] : []),
        ...['-t', (count / toNumber(pair.rate)).toFixed(6)],
        ...inPieces,
      ],
      {
        signal,
        hands: [...pair.first.hands, ...pair.second.hands],
        onData: (chunk) => {
          any = true;
          return onData(chunk);
        },
      },
    );
  };
  await play(false);
  // A stream with one whole picture at its start is sought beyond it: then it is decoded from there.
  if (!any && !signal.aborted && from > 0) await play(true);
}

/** Pictures turned round at a time: two seconds of them, or a little more. */
const roundAtOnce = 48;

/** The same backwards, without sound: stretch by stretch decoded, turned round, and put behind each other. */
export async function playPairBack(pair: Pair, played: Played, onData: OnData, signal: AbortSignal): Promise<void> {
  const { from, to, every } = played;
  const { raster } = stacked(pair.first.light, pair.second.light);
  await run(
    ffmpeg,
    [
      ...['-hide_banner', '-nostats', '-v', 'error'],
      ...['-f', 'rawvideo', '-pix_fmt', 'yuv420p', '-s', `${raster.width}x${raster.height}`],
      ...['-r', formatFraction(pair.rate), '-i', 'pipe:0'],
      ...[...lightPicture, ...lightTags, ...inPieces],
    ],
    {
      signal,
      onData,
      feed: async (stdin) => {
        for (let last = from; last > to && !signal.aborted;) {
          const count = Math.min(roundAtOnce, Math.ceil((last - to) / every));
          const first = last - (count - 1) * every;
          await stretch(pair, { first, count, every }, stdin, signal);
          last = first - every;
        }
      },
    },
  );
}

interface Stretch {
  first: number;
  count: number;
  every: number;
}

/** A stretch of pictures, the last first, written to `into`. */
async function stretch(
  pair: Pair,
  { first, count, every }: Stretch,
  into: NodeJS.WritableStream,
  signal: AbortSignal,
): Promise<void> {
  const seen = pictures(pair, first, every, false);
  await run(
    ffmpeg,
    [
      ...['-hide_banner', '-nostats', '-v', 'error'],
      ...seen.args,
      ...['-filter_complex', [...seen.graph, `${seen.stack},trim=end_frame=${count},reverse[v]`].join(';')],
      ...['-map', '[v]', '-fps_mode', 'passthrough', '-f', 'rawvideo', '-pix_fmt', 'yuv420p', 'pipe:1'],
    ],
    {
      signal,
      hands: [...pair.first.hands, ...pair.second.hands],
      onData: (chunk) =>
        into.write(chunk)
          ? undefined
          : once(into, 'drain', { signal }).then(
              () => undefined,
              () => undefined,
            ),
    },
  );
}
