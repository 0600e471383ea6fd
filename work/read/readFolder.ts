import { isRefusal, type ClipDescription, type ReadEntry, type Refusal } from '@relay/core/clip/description';
import { joinChapters } from '@relay/core/clip/chapters';
import type { Finding } from '@relay/core/findings/finding';
import { findingsOf } from '@relay/core/findings/findings';
import { neighboursOf } from '@relay/core/findings/around';
import { identityOf, type Identity } from '@relay/core/identity/identity';
import type { Measured } from '@relay/core/measure/measured';
import { readFiles } from './readFiles.ts';
import { Sidecars } from './sidecars.ts';
import type { FoundFile } from '../disk/walk.ts';

/** A clip as it was read: with what its sidecars say of it. */
export interface ReadClip {
  clip: ClipDescription;
  /** Its files, in order. */
  files: string[];
  sidecars: string[];
  identity: Identity;
}

export interface ReadFolder {
  clips: ReadClip[];
  refusals: Refusal[];
}

/**
 * Describes files, joins chapters and takes sidecars' words; what is no clip is refused with the reason. No database is
 * needed.
 */
export async function readFolder(
  files: readonly FoundFile[],
  onDone: (done: number, entry: ReadEntry) => void = () => undefined,
): Promise<ReadFolder> {
  const entries = await readFiles(files, onDone);
  const sidecars = new Sidecars(files);
  const places = new Map(files.map((file) => [file.shownPath, file.path]));
  const joined = joinChapters(
    entries.filter((entry): entry is ClipDescription => !isRefusal(entry)),
    await sidecars.spans(),
  );
  const parts = joined.flatMap((clip) =>
    clip.chapters.slice(1).map((chapter): Refusal => ({
      path: chapter.path,
      sizeBytes: chapter.sizeBytes,
      problem: {
        kind: 'chapter',
        what: `${chapter.path} is a part of ${clip.path}`,
        remedy: 'Nothing needs to be done',
      },
    })),
  );
  const clips = await Promise.all(
    joined.map(async (clip): Promise<ReadClip> => {
      const { paths, identity } = await sidecars.of(clip.path);
      const own = (clip.chapters.length > 0 ? clip.chapters.map((chapter) => chapter.path) : [clip.path]).map(
        (path) => places.get(path) ?? path,
      );
      return { clip, files: own, sidecars: paths, identity: identityOf({}, identity, clip) };
    }),
  );
  return { clips, refusals: [...entries.filter(isRefusal), ...parts] };
}

/** The findings of clips read together; `measured` is what a closer look at each showed, or null. */
export function findingsAmong(clips: readonly ReadClip[], measured: readonly (Measured | null)[]): Finding[][] {
  const around = neighboursOf(
    clips.map(({ clip, identity }) => ({
      path: clip.path,
      stem: clip.stem,
      reel: identity.reel,
      start: clip.timecode,
      frames: clip.video?.frames ?? 0,
      rate: clip.video?.rate ?? null,
    })),
  );
  return clips.map(({ clip, identity }, index) =>
    findingsOf({
      clip,
      reel: identity.reel,
      measured: measured[index] ?? null,
      recorded: null,
      unsaidLut: null,
      scanSaid: null,
      conformSaid: false,
      productionRate: null,
      ...(around[index] ?? { sameName: [], overlapping: [] }),
      custody: 'none',
    }),
  );
}
