import type { AudioTrack } from '../clip/description.ts';
import { fail, ok, type Result } from '../result.ts';

/** One channel of the original in a channel of an output, with its gain: 1 is as it is. */
export interface Feed {
  /** Channel of the original, counted over all its tracks, from 0. */
  channel: number;
  gain: number;
}

/** A track of an output: for each of its channels, what is fed into it. */
export interface MappedTrack {
  label?: string;
  channels: Feed[][];
}

/** What becomes of a clip's channels. */
export type SoundCorrection =
  | { kind: 'keep' }
  /** These channels, in this order, a track each; numbers of the original's channels from 0. */
  | { kind: 'pick'; channels: number[] }
  /** All channels in two, or one. */
  | { kind: 'fold'; to: 'stereo' | 'mono' }
  /** A matrix of one's own. */
  | { kind: 'matrix'; tracks: MappedTrack[] };

/** −3 dB: a centre or surround channel in a stereo pair (Recommendation ITU-R BS.775-4, table 2: 0.7071). */
export const minus3dB = Math.SQRT1_2;

/** Tracks and channels of a clip as one row. */
export function flatChannels(tracks: readonly AudioTrack[]): { track: number; channel: number }[] {
  const all: { track: number; channel: number }[] = [];
  for (const [track, { channels }] of tracks.entries())
    for (let channel = 0; channel < channels; channel += 1) all.push({ track, channel });
  return all;
}

/**
 * Folding to two: 5.1 (L R C LFE Ls Rs) by BS.775 with the LFE left out; two stereo tracks and the like by taking odd
 * channels left and even ones right, each at one over how many share a side, so that the sum never clips.
 */
function folded(tracks: readonly AudioTrack[], to: 'stereo' | 'mono'): MappedTrack[] {
  const all = flatChannels(tracks);
  const [only] = tracks;
  let [left, right]: [Feed[], Feed[]] = [[], []];
  if (tracks.length === 1 && only && only.channels === 6 && /^5\.1/.test(only.layout ?? '')) {
    left = [
      { channel: 0, gain: 1 },
      { channel: 2, gain: minus3dB },
      { channel: 4, gain: minus3dB },
    ];
    right = [
      { channel: 1, gain: 1 },
      { channel: 2, gain: minus3dB },
      { channel: 5, gain: minus3dB },
    ];
    const sum = 1 + 2 * minus3dB;
    for (const feed of [...left, ...right]) feed.gain /= sum;
  } else if (all.length === 1) {
    [left, right] = [[{ channel: 0, gain: 1 }], [{ channel: 0, gain: 1 }]];
  } else {
    const even = all.flatMap((_, n) => (n % 2 === 0 ? [n] : []));
    const odd = all.flatMap((_, n) => (n % 2 === 1 ? [n] : []));
    left = even.map((channel) => ({ channel, gain: 1 / even.length }));
    right = odd.map((channel) => ({ channel, gain: 1 / odd.length }));
  }
  if (to === 'stereo') return [{ channels: [left, right] }];
  const mono = new Map<number, number>();
  for (const feed of [...left, ...right]) mono.set(feed.channel, (mono.get(feed.channel) ?? 0) + feed.gain / 2);
  return [{ channels: [[...mono].map(([channel, gain]) => ({ channel, gain }))] }];
}

/**
 * The matrix that a correction comes to on a clip; null where every track stays as it is. Fails where it names channels
 * that are not there.
 */
export function soundMatrix(tracks: readonly AudioTrack[], correction: SoundCorrection): Result<MappedTrack[] | null> {
  if (correction.kind === 'keep' || tracks.length === 0) return ok(null);
  const count = flatChannels(tracks).length;
  const made =
    correction.kind === 'fold'
      ? folded(tracks, correction.to)
      : correction.kind === 'pick'
        ? correction.channels.map((channel): MappedTrack => ({ channels: [[{ channel, gain: 1 }]] }))
        : correction.tracks;
  const feeds = made.flatMap((track) => track.channels).flat();
  const absent = feeds.find(({ channel }) => !Number.isInteger(channel) || channel < 0 || channel >= count);
  if (absent)
    return fail(`channel ${absent.channel + 1} is not there: the clip has ${count}`, 'Choose channels that it has');
  if (feeds.some(({ gain }) => !Number.isFinite(gain) || Math.abs(gain) > 16))
    return fail('a gain is no number up to 16', 'State gains from −16 to 16');
  if (made.length === 0 || made.some((track) => track.channels.length === 0))
    return fail('a track without channels cannot be made', 'Give each track at least one channel');
  if (made.some((track) => track.channels.length > 16))
    return fail('a track holds 16 channels at most', 'Spread them over more tracks');
  return ok(made);
}

/** The largest sum of gains in any channel of a matrix: above 1 a full signal may clip. */
export function mostGain(tracks: readonly MappedTrack[]): number {
  return Math.max(
    0,
    ...tracks.flatMap((track) =>
      track.channels.map((feeds) => feeds.reduce((sum, { gain }) => sum + Math.abs(gain), 0)),
    ),
  );
}

function list(numbers: readonly number[]): string {
  const words = numbers.map((n) => String(n + 1));
  return words.length < 2 ? words.join('') : `${words.slice(0, -1).join(', ')} and ${words.at(-1)}`;
}

/** What a correction does to a clip's channels, in words. */
export function saySound(tracks: readonly AudioTrack[], correction: SoundCorrection): string {
  const count = flatChannels(tracks).length;
  switch (correction.kind) {
    case 'keep':
      return `All ${count} channels kept in order`;
    case 'pick':
      return `Channel${correction.channels.length === 1 ? '' : 's'} ${list(correction.channels)} kept as ${list(correction.channels)}, ${correction.channels.length} of ${count}`;
    case 'fold':
      return `${count} channel${count === 1 ? '' : 's'} folded to ${correction.to}`;
    case 'matrix':
      return `${count} channel${count === 1 ? '' : 's'} mapped to ${correction.tracks.reduce((sum, track) => sum + track.channels.length, 0)} in ${correction.tracks.length} track${correction.tracks.length === 1 ? '' : 's'}`;
  }
}
