import type { ClipDescription } from '@relay/core/clip/description';
import { isRefusal } from '@relay/core/clip/description';
import { seenAspect } from '@relay/core/corrections/fields';
import { toNumber } from '@relay/core/time/rational';
import { describeFile } from '@relay/media/describe/describe';
import { playStream } from '@relay/media/play';
import type { Response } from 'express';
import { under } from '@relay/core/naming/under';
import type { Context } from '../context.ts';
import { correctionsInForce, inForceOfClip, type InForceRows } from './inForce.ts';
import { asAsked, handOn } from '../asked.ts';
import { type Held, holding } from '@relay/work/disk/held';
import { withOriginal } from './original.ts';

/**
 * Plays a clip from `seconds` on: from its proved proxy where there is one, else from the original; made light as it is
 * watched.
 */
export async function sendPlay(
  context: Context,
  response: Response,
  clipId: string,
  seconds: number,
  channel: number | null,
): Promise<void> {
  await asAsked('play', response, async (gone) => {
    const play = async (source: Source): Promise<void> => {
      response.type('video/mp4').set({ 'Cache-Control': 'no-store', 'Relay-Source': source.kind });
      await playStream(
        source.path,
        source.description,
        { seconds: source.seconds, channel },
        handOn(response, gone),
        gone,
      );
      response.end();
    };
    await holding(async (held) => {
      const proxy = await proxyOf(context, held, clipId);
      if (proxy) return play({ ...proxy, seconds });
      return withOriginal(context, clipId, async (original) =>
        play(inOriginal({ ...original, description: await asSeen(context, clipId, original.description) }, seconds)),
      );
    });
  });
}

/** The description with the shape that corrections give its picture. */
async function asSeen({ db }: Context, clipId: string, description: ClipDescription): Promise<ClipDescription> {
  const [row] = await db.query<
    {
      inForce: InForceRows;
    }[]
  >(`SELECT in_force.fields AS "inForce" FROM clip ${inForceOfClip} WHERE clip.id = $1`, [clipId]);
  const { video } = description;
  return video && row
    ? {
        ...description,
        video: { ...video, pixelAspect: seenAspect(video.pixelAspect, correctionsInForce(row.inForce).fields) },
      }
    : description;
}

interface Source {
  kind: 'proxy' | 'original';
  path: string;
  description: ClipDescription;
  seconds: number;
}

async function proxyOf(context: Context, held: Held, clipId: string): Promise<Source | null> {
  const [row] = await context.db.query<{ path: string; store: string; folder: string }[]>(
    `SELECT o.path, o.store_id AS store, o.folder
     FROM output o
     JOIN leg ON leg.id = o.leg_id
     WHERE leg.clip_id = $1 AND o.role = 'proxy' AND o.state IN ('proved', 'needs eyes')
     ORDER BY o.created_at DESC
     LIMIT 1`,
    [clipId],
  );
  const store = row ? await context.stores.get(row.store) : null;
  if (!row || !store) return null;
  const path = await held.file(store.path, under(row.folder, row.path)).catch(() => null);
  const entry = path ? await describeFile(path, row.path) : null;
  return entry && path && !isRefusal(entry) ? { kind: 'proxy', path, description: entry, seconds: 0 } : null;
}

/** The chapter that is playing at `seconds`, and the second in it; playing ends with the chapter. */
function inOriginal(
  { files, description }: { files: string[]; description: ClipDescription },
  seconds: number,
): Source {
  let rest = seconds;
  for (const [index, chapter] of description.chapters.entries()) {
    const length = toNumber(chapter.duration);
    if (rest < length || index === description.chapters.length - 1)
      return { kind: 'original', path: files[index] as string, description, seconds: rest };
    rest -= length;
  }
  return { kind: 'original', path: files[0] as string, description, seconds };
}
