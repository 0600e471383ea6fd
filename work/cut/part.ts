import type { ClipDescription } from '@relay/core/clip/description';
import { partOfClip } from '@relay/core/clip/part';
import type { Span } from '@relay/core/cut/cut';
import type { Result } from '@relay/core/result';
import { toNumber } from '@relay/core/time/rational';
import { frameTimes } from '@relay/media/look/packets';
import { holding, type Root } from '../disk/held.ts';

/**
 * A part of a clip whose files lie below `root`; the clip itself where the part is all of it, or
 * where it is of sound alone. Of one whose rate varies the
 * time of every picture is read. @throws Error where its files cannot be opened
 */
export async function partOfFiles(root: Root, clip: ClipDescription, span: Span): Promise<Result<ClipDescription>> {
  const { video, chapters, path } = clip;
  if (!video || (span.from === 0 && span.to === video.frames)) return { ok: true, value: clip };
  if (video.rateConstant) return partOfClip(clip, span);
  const paths = chapters.length === 0 ? [path] : chapters.map((chapter) => chapter.path);
  const times = await holding(async (held) =>
    frameTimes(
      await Promise.all(paths.map((one) => held.file(root, one))),
      chapters.map(({ duration }) => toNumber(duration)),
    ),
  );
  return partOfClip(clip, span, times);
}
