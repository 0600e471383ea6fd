import type { ClipDescription } from '../clip/description.ts';
import type { ClipCorrections } from '../corrections/corrections.ts';
import { fail, ok, type Result } from '../result.ts';
import { soundMatrix, flatChannels, type SoundCorrection } from '../sound/map.ts';
import { invert, multiply, rational, scaleToInteger } from '../time/rational.ts';
import type { SoundPlan, SoundTrackPlan, VideoPlan } from './legPlan.ts';
import type { Deliverable } from './recipe.ts';
import { soundReference } from './soundAlone.ts';
import { wrappers } from './wrappers.ts';

/**
 * The layouts under which AAC keeps so many channels in their order and whole: others have a channel for low sounds alone, which
 * the encoder filters (seen by trying).
 */
export const aacLayouts: Readonly<Record<number, string>> = {
  1: 'mono',
  2: 'stereo',
  3: '3.0',
  4: 'quad',
  5: '5.0',
  6: 'hexagonal',
  8: 'octagonal',
};

/** Layouts that AAC keeps but decoders give no name for when they read them back (seen by trying in MP4, MOV and Matroska): each channel is compared all the same. */
export const unnamedLayouts: ReadonlySet<string> = new Set(['hexagonal', 'octagonal']);

/** Tracks as a wrapper holds them: each channel a track of its own, or all channels in one. */
function rearranged(
  tracks: readonly SoundTrackPlan[],
  clip: ClipDescription,
  into: 'single channels' | 'one',
): SoundTrackPlan[] {
  const flat = flatChannels(clip.audio);
  const channels = tracks.flatMap((track) => {
    const first = flat.findIndex((one) => one.track === track.from);
    const feeds =
      track.mix ?? Array.from({ length: track.channels }, (_, index) => [{ channel: first + index, gain: 1 }]);
    return feeds.map((feed) => ({ feed, bitDepth: track.bitDepth }));
  });
  const trackOf = (taken: typeof channels): SoundTrackPlan => {
    const sources = [
      ...new Set(taken.flatMap(({ feed }) => feed.map(({ channel }) => (flat[channel] as { track: number }).track))),
    ].sort((a, b) => a - b);
    return {
      from: sources[0] ?? 0,
      channels: taken.length,
      layout: null,
      bitDepth: taken.some(({ bitDepth }) => bitDepth === 24) ? 24 : 16,
      mix: taken.map(({ feed }) => feed),
      sources,
    };
  };
  if (channels.length === 0) return [];
  return into === 'one' ? [trackOf(channels)] : channels.map((one) => trackOf([one]));
}

/**
 * Whether two mono tracks become one of two channels: in review copies, since browsers and phones play the first track
 * alone, and one side would be lost. What somebody said of the sound counts before that.
 */
function pairsMono(
  { audio }: ClipDescription,
  { role, wrapper }: Pick<Deliverable, 'role' | 'wrapper'>,
  said: SoundCorrection | null | undefined,
): boolean {
  return (
    role === 'review' &&
    wrappers[wrapper].tracks === 'kept' &&
    (said?.kind ?? 'keep') === 'keep' &&
    audio.length === 2 &&
    audio.every(({ channels }) => channels === 1)
  );
}

function correctionFor(
  clip: ClipDescription,
  deliverable: Deliverable,
  said: SoundCorrection | null | undefined,
): SoundCorrection {
  return pairsMono(clip, deliverable, said) ? { kind: 'fold', to: 'stereo' } : (said ?? { kind: 'keep' });
}

/** How one deliverable's sound comes from a clip. */
export function planSound(
  clip: ClipDescription,
  deliverable: Deliverable,
  video: VideoPlan,
  corrections: ClipCorrections,
): Result<SoundPlan> {
  const relabel = corrections.time?.kind === 'relabel' ? corrections.time : null;
  const matrix = soundMatrix(clip.audio, correctionFor(clip, deliverable, corrections.sound));
  if (!matrix.ok) return matrix;
  const depthOf = (tracks: readonly number[]): 16 | 24 =>
    (deliverable.sound.codec === 'pcm' ? deliverable.sound.bitDepth : undefined) ??
    (tracks.every((index) => (clip.audio[index]?.bitDepth ?? 24) <= 16) ? 16 : 24);
  const flat = flatChannels(clip.audio);
  const kept: SoundTrackPlan[] =
    matrix.value === null
      ? clip.audio.map((track, from) => ({
          from,
          channels: track.channels,
          layout: track.layout,
          bitDepth: depthOf([from]),
        }))
      : matrix.value.map((track): SoundTrackPlan => {
          const sources = [
            ...new Set(track.channels.flat().map(({ channel }) => (flat[channel] as { track: number }).track)),
          ].sort((a, b) => a - b);
          return {
            from: sources[0] ?? 0,
            channels: track.channels.length, // A single channel is read back without a layout.
            layout: track.channels.length === 2 ? 'stereo' : null,
            bitDepth: depthOf(sources),
            mix: track.channels,
            sources,
            ...(track.label ? { label: track.label } : {}),
          };
        });
  const row = wrappers[deliverable.wrapper];
  const heard = relabel?.sound === 'dropped' ? [] : kept;
  const tracks = row.tracks === 'kept' ? heard : rearranged(heard, clip, row.tracks);
  const wanted = deliverable.sound;
  const unheld = wanted.codec === 'aac' ? tracks.find((track) => !(track.channels in aacLayouts)) : undefined;
  if (unheld)
    return fail(
      `AAC does not hold ${unheld.channels} channels in a track`,
      'Take PCM sound in the recipe, or pick channels as tracks of their own',
    );
  const stretched = relabel !== null && relabel.sound !== 'dropped' && video.stretch.num !== video.stretch.den;
  const reference = soundReference(clip);
  return ok({
    sampleRate: 48_000,
    samples: scaleToInteger(video.frames, multiply(rational(48_000), invert(video.rate))),
    tracks:
      wanted.codec === 'aac'
        ? tracks.map((track) => ({ ...track, layout: aacLayouts[track.channels] ?? null }))
        : row.layouts
          ? tracks
          : tracks.map((track) => ({ ...track, layout: null })),
    ...(reference === undefined ? {} : { timeReference: reference }),
    ...(wanted.codec === 'aac'
      ? { coding: { codec: 'aac' as const, bitsPerSecond: wanted.bitsPerSecond ?? 96_000 } }
      : {}),
    ...(stretched
      ? {
          stretch: {
            by: video.stretch,
            pitch: relabel.sound === 'pitch kept' ? ('kept' as const) : ('moves' as const),
          },
        }
      : {}),
  });
}
