import type { ClipDescription } from '@relay/core/clip/description';
import { measureFlow, measureJitter, type Measured, type Packet } from '@relay/core/measure/measured';
import type { Outline } from '@relay/core/measure/sound';
import { toNumber } from '@relay/core/time/rational';
import { lookAtFields } from './fields.ts';
import { picturePackets, timecodeBreaks } from './packets.ts';
import { lookAtPictures, type Place } from './pictures.ts';
import { lookAtSound } from './sound.ts';

/** What a closer look gives: measurements for the rules, and what is drawn of them. */
export interface Look {
  measured: Measured;
  outlines: Outline[];
  packets: Packet[];
}

/** Pictures taken across a clip: enough for a scene that is dark in the middle, few enough for a thousand clips. */
export const stripPictures = 9;

/** Looks closely at a clip: pictures from across it, all of its sound, every packet. `paths` are its files in order. */
// eslint-disable-next-line complexity -- a list of looks, each for what a clip may lack
export async function lookClosely(clip: ClipDescription, paths: readonly string[], strip: string): Promise<Look> {
  const { video } = clip;
  const lengths =
    clip.chapters.length > 0
      ? clip.chapters.map((chapter) => toNumber(chapter.duration))
      : [video ? toNumber(video.duration) : 0];
  const places = video ? placesIn(paths, lengths, toNumber(video.rate)) : [];
  const [pictures, fields, sound] = await Promise.all([
    video ? lookAtPictures(places, video, clip.wrapperId, strip) : null,
    video ? lookAtFields(places, video) : null,
    clip.audio.length > 0 ? lookAtSound(paths, clip.audio) : { channels: [], outlines: [], errors: [] },
  ]);
  const packets: Packet[] = [];
  let after = 0;
  for (const [index, path] of paths.entries()) {
    if (video) for (const packet of await picturePackets(path, after)) packets.push(packet);
    after += lengths[index] ?? 0;
  }
  const breaks =
    video && clip.timecode && /^(mov|mp4)$/.test(clip.wrapperId)
      ? await timecodeBreaks(paths[0] as string, video, clip.timecode)
      : [];
  return {
    measured: {
      version: 1,
      picture: pictures?.measure ? { ...pictures.measure, ...(fields ? { fields } : {}) } : null,
      sound: sound.channels,
      flow: video ? measureFlow(packets, video.rate) : null,
      ...(video && !video.rateConstant
        ? {
            jitter: measureJitter(
              packets.map(({ seconds }) => seconds).sort((a, b) => a - b),
              video.rate,
            ),
          }
        : {}),
      errors: [...new Set([...(pictures?.errors ?? []), ...sound.errors])].slice(0, 6),
      timecodeBreaks: breaks,
    },
    outlines: sound.outlines,
    packets,
  };
}

/** Places spread evenly over a clip's files, off its very ends. */
export function placesIn(
  paths: readonly string[],
  lengths: readonly number[],
  framesPerSecond: number,
  count = stripPictures,
): Place[] {
  const whole = lengths.reduce((a, b) => a + b, 0);
  return Array.from({ length: count }, (_, index) => {
    let seconds = (whole * (index + 0.5)) / count;
    let file = 0;
    while (file < paths.length - 1 && seconds >= (lengths[file] ?? 0)) {
      seconds -= lengths[file] ?? 0;
      file += 1;
    }
    return { path: paths[file] as string, seconds, frame: Math.floor(seconds * framesPerSecond) };
  });
}
