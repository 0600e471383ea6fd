import type { ClipDescription } from '@relay/core/clip/description';
import { measureFlow, measureJitter, type Measured, type Packet } from '@relay/core/measure/measured';
import type { Outline } from '@relay/core/measure/sound';
import { toNumber } from '@relay/core/time/rational';
import { picturePackets, timecodeBreaks } from './packets.ts';
import { lookAtPictures } from './pictures.ts';
import { placesIn } from './places.ts';
import { lookAtSound } from './sound.ts';

/** What a closer look gives: measurements for the rules, and what is drawn of them. */
export interface Look {
  measured: Measured;
  outlines: Outline[];
  packets: Packet[];
}

/** The packets of a clip's files, one file after the other. `lengths` are the files' seconds. */
async function packetsOf(paths: readonly string[], lengths: readonly number[]): Promise<Packet[]> {
  const packets: Packet[] = [];
  let after = 0;
  for (const [index, path] of paths.entries()) {
    for (const packet of await picturePackets(path, after)) packets.push(packet);
    after += lengths[index] ?? 0;
  }
  return packets;
}

/** Looks closely at a clip: pictures from across it, all of its sound, every packet. `paths` are its files in order. */
export async function lookClosely(clip: ClipDescription, paths: readonly string[], strip: string): Promise<Look> {
  const { video } = clip;
  const lengths =
    clip.chapters.length > 0
      ? clip.chapters.map((chapter) => toNumber(chapter.duration))
      : [video ? toNumber(video.duration) : 0];
  const places = video ? placesIn(paths, lengths, toNumber(video.rate)) : [];
  const [pictures, sound, packets, breaks] = await Promise.all([
    video ? lookAtPictures(places, video, clip.wrapperId, strip) : null,
    clip.audio.length > 0 ? lookAtSound(paths, clip.audio) : { channels: [], outlines: [], errors: [] },
    video ? packetsOf(paths, lengths) : [],
    video && clip.timecode && /^(mov|mp4)$/.test(clip.wrapperId)
      ? timecodeBreaks(paths[0] as string, video, clip.timecode)
      : [],
  ]);
  return {
    measured: {
      version: 1,
      picture: pictures?.measure
        ? { ...pictures.measure, ...(pictures.fields ? { fields: pictures.fields } : {}) }
        : null,
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
