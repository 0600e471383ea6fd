import { codecRow } from '@relay/core/recipe/codecs';
import type { Deliverable, VideoCodec, WrapperId } from '@relay/core/recipe/recipe';
import { wrapperIds } from '@relay/core/recipe/recipe';
import { wrapperProblem, wrappers } from '@relay/core/recipe/wrappers';

/** Codecs as they are offered, each as it begins. */
const offered: readonly { group: string; codecs: readonly VideoCodec[] }[] = [
  {
    group: 'Intra, by published rates',
    codecs: [
      ...(['proxy', 'lt', '422', 'hq', '4444', '4444xq'] as const).map((profile): VideoCodec => ({
        id: 'prores',
        profile,
      })),
      ...(['lb', 'sq', 'hq', 'hqx', '444'] as const).map((profile): VideoCodec => ({ id: 'vc3', profile })),
    ],
  },
  {
    group: 'HD at its own rates',
    codecs: (['low', 'standard', 'high', 'high-10'] as const).map((grade): VideoCodec => ({ id: 'vc3hd', grade })),
  },
  {
    group: 'By quality, rate or size',
    codecs: [
      { id: 'h264', quality: 21 },
      { id: 'hevc', quality: 24 },
      { id: 'av1', quality: 30 },
    ],
  },
  {
    group: 'A file for each picture',
    codecs: (['dpx', 'tiff', 'png', 'exr'] as const).map((format): VideoCodec => ({ id: 'pictures', format })),
  },
  { group: 'No picture', codecs: [{ id: 'none' }] },
  {
    group: 'Others',
    codecs: [
      { id: 'vc5', quality: 'film' },
      { id: 'mjpeg', quality: 3 },
      { id: 'ffv1', sampling: '4:2:2 10' },
      { id: 'v210' },
    ],
  },
];

/** What tells two codecs of the list apart. */
export function codecKey(codec: VideoCodec): string {
  return [
    codec.id,
    'profile' in codec ? codec.profile : '',
    'grade' in codec ? codec.grade : '',
    'format' in codec ? codec.format : '',
  ]
    .join(' ')
    .trim();
}

export const codecGroups = offered.map(({ group, codecs }) => ({
  group,
  codecs: codecs.map((codec) => ({ key: codecKey(codec), name: codecRow(codec).name, codec })),
}));

export function codecByKey(key: string): VideoCodec {
  return (
    offered.flatMap(({ codecs }) => codecs).find((codec) => codecKey(codec) === key) ?? { id: 'prores', profile: 'hq' }
  );
}

/** Wrappers that can hold a codec. */
export function wrappersFor(codec: VideoCodec): WrapperId[] {
  return wrapperIds.filter((id) => wrappers[id].codecs.includes(codec.id));
}

/** The deliverable with another codec: its wrapper and sound stay where they can. */
export function withCodec(deliverable: Deliverable, codec: VideoCodec): Deliverable {
  const wrapper = wrappers[deliverable.wrapper].codecs.includes(codec.id)
    ? deliverable.wrapper
    : (wrappersFor(codec)[0] as WrapperId);
  return withWrapper({ ...deliverable, codec }, wrapper);
}

export function withWrapper(deliverable: Deliverable, wrapper: WrapperId): Deliverable {
  const sound =
    wrapperProblem(wrapper, deliverable.codec.id, deliverable.sound.codec) === null
      ? deliverable.sound
      : { codec: wrappers[wrapper].sound[0] as 'pcm' | 'aac', sampleRate: 48_000 as const };
  return { ...deliverable, wrapper, sound };
}
