import type { SizesAnswer, SizeSum, sizesBy } from '@relay/contract/checks';
import type { DataSource } from 'typeorm';
import { notThere } from '../http.ts';

/** What each way of summing takes of a clip and its output. */
const names: Readonly<Record<(typeof sizesBy)[number], string>> = {
  deliverable: 'o.deliverable',
  roll: 'clip.roll',
  camera: `coalesce(clip.description->>'device', '')`,
  day: `coalesce(roll.day, '')`,
};

/**
 * Sizes of originals and of what was made of them and is good, summed. An output that was made again under its name
 * counts once, and so does an original in each sum.
 */
export async function sizesOf(db: DataSource, production: string, by: (typeof sizesBy)[number]): Promise<SizesAnswer> {
  const lines = await db.query<(SizeSum & { name: string | null })[]>(
    `WITH made AS (
       SELECT DISTINCT ON (o.store_id, o.folder, o.path)
         ${names[by]} AS name, clip.id AS clip, clip.size_bytes AS original, clip.seconds, o.size_bytes AS bytes
       FROM output o
       JOIN leg ON leg.id = o.leg_id
       JOIN run ON run.id = leg.run_id
       JOIN clip ON clip.id = leg.clip_id
       LEFT JOIN roll ON roll.id = clip.roll_id
       WHERE run.production_id = $1 AND o.state IN ('proved', 'needs eyes')
       ORDER BY o.store_id, o.folder, o.path, o.created_at DESC
     ),
     by_clip AS (
       SELECT name, clip, max(original) AS original, max(seconds) AS seconds, count(*) AS outputs, sum(bytes) AS bytes
       FROM made
       GROUP BY GROUPING SETS ((name, clip), (clip))
     )
     SELECT name, count(*)::int AS clips, coalesce(sum(seconds), 0)::float AS seconds,
       sum(original)::float AS "originalBytes", sum(outputs)::int AS outputs, sum(bytes)::float AS "outputBytes"
     FROM by_clip
     GROUP BY name
     ORDER BY sum(original) DESC, name`,
    [production],
  );
  const all = lines.find(({ name }) => name === null);
  if (!all) {
    const [known] = await db.query<{ id: string }[]>('SELECT id FROM production WHERE id = $1', [production]);
    if (!known) throw notThere('The production');
  }
  return {
    all: {
      clips: all?.clips ?? 0,
      seconds: all?.seconds ?? 0,
      originalBytes: all?.originalBytes ?? 0,
      outputs: all?.outputs ?? 0,
      outputBytes: all?.outputBytes ?? 0,
    },
    lines: lines.flatMap(({ name, ...line }) => (name === null ? [] : [{ name, ...line }])),
  };
}
