import { codecFamilies, codecRow, type CodecFamily } from '@relay/core/recipe/codecs';
import type { Deliverable, VideoCodec, WrapperId } from '@relay/core/recipe/recipe';
import { wrapperIds } from '@relay/core/recipe/recipe';
import { wrapperProblem, wrappers } from '@relay/core/recipe/wrappers';

const families: readonly CodecFamily[] = Object.values(codecFamilies) as unknown as CodecFamily[];
const offered: readonly VideoCodec[] = families.flatMap((family) => family.offered);

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

/** Codecs under their headings, each as it begins. */
export const codecGroups = [...new Set(families.map(({ group }) => group))].map((group) => ({
  group,
  codecs: families
    .filter((family) => family.group === group)
    .flatMap((family) => family.offered)
    .map((codec) => ({ key: codecKey(codec), name: codecRow(codec).name, codec })),
}));

export function codecByKey(key: string): VideoCodec {
  return offered.find((codec) => codecKey(codec) === key) ?? { id: 'prores', profile: 'hq' };
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
