import type { PullWish } from '@relay/contract/runs';
import type { Span } from '@relay/core/cut/cut';
import { pullOf, pulledFrames } from '@relay/core/relink/pull';
import type { DataSource } from 'typeorm';
import { notThere } from '../http.ts';
import { tryVersion } from './rehearsal.ts';

/** What a version of a cut needs, by clip. */
export interface PullOfVersion {
  stretches: { clip: string; frames: Span }[];
  frames: number;
  /** Stretches whose handles are shorter than asked for, as the clip begins or ends. */
  short: number;
  /** Events that are found only nearly, and are pulled nevertheless. */
  nearly: number;
  /** Events whose frames are in no clip. */
  left: number;
}

/** The stretches of a production's clips that a version of one of its cuts needs. */
export async function pullOfVersion(
  db: DataSource,
  production: string,
  { version: id, handles, gap }: PullWish,
): Promise<PullOfVersion> {
  const { version, originals, matches } = await tryVersion(db, id);
  if (version.of.productionId !== production) throw notThere('The version of the cut');
  const pull = pullOf(matches, originals, { handles, gap });
  return {
    stretches: pull.stretches.map(({ original, frames }) => ({ clip: originals[original]?.clip ?? '', frames })),
    frames: pulledFrames(pull),
    short: pull.stretches.filter(({ short }) => short.before > 0 || short.after > 0).length,
    nearly: matches.filter((match) => match?.grade === 'nearly' && match.frames !== null).length,
    left: pull.left.length,
  };
}
