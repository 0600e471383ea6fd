import type { OriginalsPlace } from '@relay/contract/originals';

/** Tells a roll's place from others. */
export function placeKey({ store, folder, roll }: OriginalsPlace): string {
  return JSON.stringify([store, folder, roll]);
}
