import type { ClipLine, ClipSort, LegState } from '@relay/contract/api';
import type { ClipDescription } from '@relay/core/clip/description';
import { notesOn } from '@relay/core/clip/toKnow';
import type { DataSource } from 'typeorm';

/** SQL expressions that the sheet is sorted by; `group` brings clips together that are alike in what matters for corrections. */
const sortKeys: Readonly<Record<ClipSort, string>> = {
  group: `roll, (description->'video'->'raster'->>'width')::int, description->'video'->'rate'->>'num', path`,
  name: 'stem, path',
  starts: `description->'timecode'->>'start'`,
  length: `((description->'video'->'duration'->>'num')::float / (description->'video'->'duration'->>'den')::float)`,
  rate: `((description->'video'->'rate'->>'num')::float / (description->'video'->'rate'->>'den')::float)`,
  size: 'size_bytes',
  raster: `(description->'video'->'raster'->>'width')::int * (description->'video'->'raster'->>'height')::int`,
  notes: `(description->>'cutShort') IS NULL, (description->'video'->>'rateConstant')::boolean, (description->'timecode'->>'start') IS NOT NULL`,
};

interface ClipRecord {
  id: string;
  path: string;
  stem: string;
  roll: string;
  description: ClipDescription;
  poster: boolean;
  way: { role: string; state: LegState; share: number }[] | null;
}

/** The newest leg of each clip, as the way it has come: one stretch a deliverable. */
const way = `
  (SELECT json_agg(json_build_object(
      'role', d.value->>'role',
      'state', coalesce(o.state, newest.state),
      'share', CASE WHEN newest.frames_total > 0 THEN round((newest.frames_done::numeric / newest.frames_total), 3) ELSE 0 END) ORDER BY d.ordinality)
   FROM (SELECT leg.id, leg.state, leg.frames_done, leg.frames_total, run.recipe FROM leg JOIN run ON run.id = leg.run_id
         WHERE leg.clip_id = clip.id ORDER BY run.created_at DESC LIMIT 1) newest
   CROSS JOIN LATERAL jsonb_array_elements(newest.recipe->'deliverables') WITH ORDINALITY d
   LEFT JOIN output o ON o.leg_id = newest.id AND o.deliverable = d.value->>'name' AND newest.state NOT IN ('waiting', 'running', 'proving'))`;

/** The clips of a production, sorted and filtered by the database. Every word of the filter must be found somewhere in the facts. */
export async function clipLines(db: DataSource, production: string, sort: ClipSort, direction: 'up' | 'down', filter: string): Promise<ClipLine[]> {
  const words = filter.toLowerCase().split(/\s+/).filter((word) => word !== '');
  const rows = (await db.query(
    `SELECT id, path, stem, roll, description, poster, ${way} AS way FROM clip
     WHERE production_id = $1 AND description IS NOT NULL
       AND (cardinality($2::text[]) = 0 OR lower(concat_ws(' ', path, roll, description->>'reel', description->'timecode'->>'start', description->>'wrapper',
         description->'video'->>'codec', description->'video'->>'scan', description->'video'->>'chroma',
         concat(description->'video'->'raster'->>'width', '×', description->'video'->'raster'->>'height'),
         concat(description->'video'->'raster'->>'width', 'x', description->'video'->'raster'->>'height'))) LIKE ALL ($2::text[]))
     ORDER BY ${sortKeys[sort].split(', ').map((key) => `${key} ${direction === 'up' ? 'ASC' : 'DESC'} NULLS LAST`).join(', ')}, path LIMIT 20000`,
    [production, words.map((word) => `%${word.replace(/[\\%_]/g, '\\$&')}%`)],
  )) as ClipRecord[];
  return rows.map((row) => ({ ...row, notes: notesOn(row.description), way: row.way ?? [] }));
}
