import type { ClipDescription } from '@relay/core/clip/description';
import type { LegPlan, OutputPlan, SoundPlan, SoundTrackPlan } from '@relay/core/recipe/legPlan';
import { chapterSounds } from '@relay/core/sound/chapters';
import { flatChannels, type Feed } from '@relay/core/sound/map';
import { stretchRates } from '@relay/core/time/conform';
import { toNumber, type Rational } from '@relay/core/time/rational';
import { chapterInput } from '../process/joined.ts';

/**
 * How early `atempo` is at its own pace: it begins within its first window, and lays bursts in silence by 16 ms, voices by up to 5 ms early. Measured
 * with FFmpeg 5.1 from 0.4 to 2.5 times; the middle is made up for. The other filter there is, `rubberband`, keeps time to 12 ms but loses up to 2.7 dB.
 */
const earlySeconds = 0.011;

/** Sound as it must be to follow relabelled pictures. */
function stretchFilters({ stretch, sampleRate }: SoundPlan): string[] {
  if (!stretch) return [];
  if (stretch.pitch === 'moves') {
    // Taken to be at one rate, brought to another, called 48 kHz again: exact to the sample for every pair of rates.
    const { taken, brought } = stretchRates(stretch.by);
    return [`asetrate=${taken}`, `aresample=${brought}`, 'asetrate=48000'];
  }
  // The filter takes factors from a half on; smaller ones are taken in equal steps.
  const tempo = 1 / toNumber(stretch.by);
  const steps = Math.max(1, Math.ceil(Math.log(tempo) / Math.log(0.5)));
  const each = tempo ** (1 / steps);
  return Array.from({ length: steps }, () => [
    `atempo=${each.toFixed(12)}`,
    `adelay=delays=${Math.round(earlySeconds * (sampleRate / each))}S:all=1`,
  ]).flat();
}

/**
 * The filters of one sound track: moved to begin with the first picture, brought to the rate, and as long as the
 * picture to the sample, or `past` samples longer where a wrapper ends with its shortest stream. Sound of an original that is cut short is not drawn out over pictures that do not exist.
 */
export function soundFilters(sound: SoundPlan, pictureStart: Rational, original: ClipDescription, past = 0): string {
  // Chapters begin with their pictures already.
  const start = original.chapters.length > 0 ? 0 : toNumber(pictureStart);
  return [
    start > 0 ? `asetpts=PTS-${start.toFixed(9)}/TB` : null,
    // Sound that begins before its pictures loses what nobody sees.
    `aresample=${sound.sampleRate}:async=1:first_pts=0`,
    ...stretchFilters(sound),
    original.cutShort ? null : `apad=whole_len=${sound.samples + past}`,
    `atrim=end_sample=${sound.samples + past}`,
  ]
    .filter((part) => part !== null)
    .join(',');
}

/**
 * A track of an original as the beginning of a filter graph: its stream, or the same stream of each chapter, brought to the length of that
 * chapter's pictures, one behind the other. `label` is what its parts' pads are named by.
 */
function trackOf(
  { chapters, cutShort, part }: ClipDescription,
  track: number,
  sampleRate: number,
  label: string,
): { before: string[]; pad: string } {
  if (chapters.length <= 1) return { before: [], pad: `[${part ? chapterInput(0) : 0}:a:${track}]` };
  const parts = chapterSounds(chapters, sampleRate).map(({ samples, pictureStart }, index) =>
    [
      `[${chapterInput(index)}:a:${track}]`,
      [
        ...(pictureStart > 0 ? [`asetpts=PTS-${pictureStart.toFixed(9)}/TB`] : []),
        `aresample=${sampleRate}:async=1:first_pts=0`,
        ...(cutShort && index === chapters.length - 1 ? [] : [`apad=whole_len=${samples}`]),
        `atrim=end_sample=${samples}`,
      ].join(','),
      `[${label}p${index}]`,
    ].join(''),
  );
  return {
    before: [
      ...parts,
      `${parts.map((_, index) => `[${label}p${index}]`).join('')}concat=n=${parts.length}:v=0:a=1${part ? `,atrim=start_sample=${Math.round(toNumber(part.at) * sampleRate)},asetpts=PTS-STARTPTS` : ''}[${label}w]`,
    ],
    pad: `[${label}w]`,
  };
}

function panOf(feeds: readonly Feed[][], place: (channel: number) => number): string {
  const layout = feeds.length === 1 ? 'mono' : feeds.length === 2 ? 'stereo' : `${feeds.length}c`;
  const sums = feeds.map(
    (feed, index) =>
      `c${index}=${feed.length === 0 ? '0*c0' : feed.map(({ channel, gain }) => `${gain.toFixed(9)}*c${place(channel)}`).join('+')}`,
  );
  return `pan=${layout}|${sums.join('|')}`;
}

/** Channels under the names of a layout that the encoder keeps whole, in their order and not mixed. */
function namedChannels({ channels, layout }: SoundTrackPlan): string {
  return layout && channels > 1
    ? `,channelmap=${Array.from({ length: channels }, (_, index) => index).join('|')}:${layout}`
    : '';
}

/** One track of an output as FFmpeg is told of it: what is mapped, and its filters where it comes from one stream. */
export interface TrackArguments {
  map: string;
  filter: string | null;
  /** A piece of the complex filter graph that makes it, where it is mixed of several streams. */
  graph: string | null;
}

export function trackArguments(
  plan: LegPlan,
  { sound, wrapper }: OutputPlan,
  track: SoundTrackPlan,
  label: string,
): TrackArguments {
  // MXF ends with its shortest stream: sound that ended with the picture would take its last frame along.
  const chain = soundFilters(sound, plan.pictureStart, plan.original, wrapper === 'mxf' ? 2 * sound.sampleRate : 0);
  const named = sound.coding ? namedChannels(track) : '';
  const from = (number: number, name: string): { before: string[]; pad: string } =>
    trackOf(plan.original, number, sound.sampleRate, name);
  /** What comes of one stream: a filter of its own, or the end of a graph where that stream is joined of several. */
  const ofOne = (filter: string): TrackArguments => {
    const { before, pad } = from(track.from, label);
    return before.length === 0
      ? { map: pad.slice(1, -1), filter, graph: null }
      : { map: `[${label}]`, filter: null, graph: [...before, `${pad}${filter}[${label}]`].join(';') };
  };
  if (!track.mix) return ofOne(`${chain}${named}`);
  const flat = flatChannels(plan.original.audio);
  const used = [...new Set(track.mix.flat().map(({ channel }) => channel))].sort((a, b) => a - b);
  if ((track.sources?.length ?? 0) <= 1)
    return ofOne(`${chain},${panOf(track.mix, (channel) => flat[channel]?.channel ?? 0)}${named}`);
  // Each channel by itself first: merged streams of different layouts would be put into an order of their own.
  const parts = used.flatMap((channel, index) => {
    const { before, pad } = from(flat[channel]?.track ?? 0, `${label}c${index}`);
    return [...before, `${pad}${chain},pan=mono|c0=c${flat[channel]?.channel}[${label}c${index}]`];
  });
  return {
    map: `[${label}]`,
    filter: null,
    graph: [
      ...parts,
      `${used.map((_, index) => `[${label}c${index}]`).join('')}amerge=inputs=${used.length},${panOf(track.mix, (channel) => used.indexOf(channel))}${named}[${label}]`,
    ].join(';'),
  };
}
