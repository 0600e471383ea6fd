import type { IdentityPreview } from '@relay/contract/clips';
import type { ClipDescription } from '@relay/core/clip/description';
import { neighboursOf } from '@relay/core/findings/around';
import { csvLine, type IdentityRow } from '@relay/core/identity/csv';
import {
  identityFields,
  identityOf,
  identityProblem,
  type Identity,
  type IdentityField,
} from '@relay/core/identity/identity';
import { applyPattern, countClashes, parsePattern } from '@relay/core/identity/pattern';
import type { DataSource, EntityManager } from 'typeorm';
import { identityCsv } from './identityCsv.ts';
import { Refused } from '../http.ts';
import { tell } from '../live/notify.ts';
import { refreshClips } from './refresh.ts';
import { fitting } from './queries.ts';

/** What is to be said of one clip by somebody who saw it at `version`. A null takes back what was said. */
export interface Saying {
  id: string;
  version: number;
  change: Partial<Record<IdentityField, string | null>> & { circled?: boolean | undefined };
}

interface Identified {
  id: string;
  path: string;
  stem: string;
  roll: string;
  root: string;
  day: string | null;
  version: number;
  description: ClipDescription;
  said: Partial<Identity>;
  sidecarSaid: Partial<Identity>;
}

const columns = `clip.id, clip.path, clip.stem, clip.roll, clip.root, roll.day, clip.version, clip.description, clip.said, clip.sidecar_said AS "sidecarSaid"`;

async function identified(
  db: DataSource | EntityManager,
  production: string,
  ids: readonly string[] | null,
): Promise<Identified[]> {
  return await db.query<Identified[]>(
    `SELECT ${columns}
     FROM clip
     LEFT JOIN roll ON roll.id = clip.roll_id
     WHERE clip.production_id = $1 AND ($2::uuid[] IS NULL OR clip.id = ANY($2)) AND clip.description IS NOT NULL
     ORDER BY clip.roll, clip.path`,
    [production, ids],
  );
}

/**
 * Takes in what is said, keeping what stood before for an undo. All or nothing: somebody else's newer word stops it.
 */
export async function say(
  db: DataSource,
  production: string,
  sayings: readonly Saying[],
  what: string,
  who: string,
): Promise<{ change: string; clips: number }> {
  const made = await db.transaction(async (tx) => {
    const rows = await tx.query<{ id: string; stem: string; version: number; said: Partial<Identity> }[]>(
      'SELECT id, stem, version, said FROM clip WHERE production_id = $1 AND id = ANY($2::uuid[]) FOR UPDATE',
      [production, sayings.map((one) => one.id)],
    );
    const byId = new Map(rows.map((row) => [row.id, row]));
    const stale = sayings.flatMap((one) => {
      const row = byId.get(one.id);
      return row && row.version === one.version ? [] : [row?.stem ?? 'a clip that is no longer there'];
    });
    if (stale.length > 0)
      throw new Refused(409, {
        what: `${stale.slice(0, 3).join(', ')}${stale.length > 3 ? ` and ${stale.length - 3} more` : ''} was changed by somebody else meanwhile; nothing of yours was taken in`,
        remedy: 'Look at what they said, then say yours again',
      });
    const after = sayings.map((one) => {
      const said: Record<string, unknown> = { ...byId.get(one.id)?.said };
      for (const [field, value] of Object.entries(one.change)) {
        if (value === undefined) continue;
        if (value === null || value === '') Reflect.deleteProperty(said, field);
        else said[field] = value;
      }
      return { id: one.id, said };
    });
    await tx.query(
      `UPDATE clip
       SET said = made.said, version = version + 1
       FROM jsonb_to_recordset($1::jsonb) AS made(id uuid, said jsonb)
       WHERE clip.id = made.id`,
      [JSON.stringify(after)],
    );
    const before = sayings.map((one) => ({ id: one.id, said: byId.get(one.id)?.said ?? {}, version: one.version + 1 }));
    const [change] = await tx.query<{ id: string }[]>(
      'INSERT INTO identity_change (production_id, what, who, before) VALUES ($1, $2, $3, $4) RETURNING id',
      [production, what, who, JSON.stringify(before)],
    );
    return change?.id as string;
  });
  await spread(
    db,
    production,
    sayings.map((one) => one.id),
    sayings.some((one) => 'reel' in one.change),
  );
  return { change: made, clips: sayings.length };
}

/** Puts back what stood before a change, unless somebody said something newer since. */
export async function undo(db: DataSource, changeId: string): Promise<number> {
  const { production, ids } = await db.transaction(async (tx) => {
    const [change] = await tx.query<
      {
        production: string;
        before: { id: string; said: Partial<Identity>; version: number }[];
        undoneAt: Date | null;
      }[]
    >(
      'SELECT production_id AS production, before, undone_at AS "undoneAt" FROM identity_change WHERE id = $1 FOR UPDATE',
      [changeId],
    );
    if (!change || change.undoneAt)
      throw new Refused(409, { what: 'This was undone already', remedy: 'Nothing needs to be done' });
    const rows = await tx.query<{ id: string; stem: string; version: number }[]>(
      'SELECT id, stem, version FROM clip WHERE id = ANY($1::uuid[]) FOR UPDATE',
      [change.before.map((one) => one.id)],
    );
    const newer = rows.filter((row) => change.before.find((one) => one.id === row.id)?.version !== row.version);
    if (newer.length > 0)
      throw new Refused(409, {
        what: `${newer
          .slice(0, 3)
          .map((row) => row.stem)
          .join(', ')} was changed again since, so this can no longer be undone`,
        remedy: 'Change it by hand',
      });
    await tx.query(
      `UPDATE clip
       SET said = made.said, version = version + 1
       FROM jsonb_to_recordset($1::jsonb) AS made(id uuid, said jsonb)
       WHERE clip.id = made.id`,
      [JSON.stringify(change.before)],
    );
    await tx.query('UPDATE identity_change SET undone_at = now() WHERE id = $1', [changeId]);
    return { production: change.production, ids: change.before.map((one) => one.id) };
  });
  await spread(db, production, ids, true);
  return ids.length;
}

/** The clips' own words at once; their neighbours' findings, where a reel changed, as soon as they are worked out. */
async function spread(
  db: DataSource,
  production: string,
  ids: readonly string[],
  neighboursToo: boolean,
): Promise<void> {
  await refreshClips(db, production, ids);
  await tell(db, { kind: 'changed', what: 'clips', production });
  if (neighboursToo)
    void refreshClips(db, production)
      .then(() => tell(db, { kind: 'changed', what: 'clips', production }))
      .catch(() => undefined);
}

/** What a pattern would say of each clip. */
export async function previewPattern(
  db: DataSource,
  production: string,
  ids: readonly string[],
  field: IdentityField,
  text: string,
): Promise<IdentityPreview> {
  const pattern = parsePattern(text);
  if (!pattern.ok) throw new Refused(400, pattern.problem);
  const clips = await identified(db, production, ids);
  const changes = new Map<string, IdentityRow['change']>();
  let empty = 0;
  for (const clip of clips) {
    const value = applyPattern(pattern.value, {
      name: clip.stem,
      folders: clip.path.split('/').slice(0, -1).reverse(),
      roll: clip.roll,
      day: clip.day ?? clip.path.split('/')[0] ?? null,
      date: clip.description.modifiedAt.slice(0, 10),
      timecode: clip.description.timecode?.start ?? null,
    });
    if (value === null) empty += 1;
    else if (identityProblem(field, value))
      throw new Refused(400, {
        what: `${clip.stem} would get ${JSON.stringify(value)}: ${identityProblem(field, value) ?? ''}`,
        remedy: 'Take a shorter part',
      });
    else changes.set(clip.id, { [field]: value });
  }
  return preview(db, production, clips, changes, { empty, refused: [], ignored: [], rows: new Map() });
}

/** What a CSV file would say of each clip, and which of its rows are refused. */
export async function previewCsv(
  db: DataSource,
  production: string,
  body: Uint8Array,
): Promise<{ preview: IdentityPreview; versions: Record<string, number> | null }> {
  const clips = await identified(db, production, null);
  const read = identityCsv({ body, clips });
  if (!read.ok) throw new Refused(400, read.problem);
  const {
    rows: { rows, refused, ignored },
    versions,
  } = read.value;
  const named = new Set(rows.map((row) => row.clip));
  const made = await preview(
    db,
    production,
    clips.filter((clip) => named.has(clip.id)),
    new Map(rows.map((row) => [row.clip, row.change])),
    {
      empty: 0,
      refused,
      ignored,
      rows: new Map(rows.map((row) => [row.clip, row.row])),
    },
  );
  return { preview: made, versions };
}

/** Takes in what a pattern gives of each clip, as its sender saw them. */
export async function sayPattern(
  db: DataSource,
  production: string,
  clips: readonly { id: string; version: number }[],
  { field, pattern }: { field: IdentityField; pattern: string },
  who: string,
): Promise<{ change: string; clips: number }> {
  const { rows } = await previewPattern(
    db,
    production,
    clips.map(({ id }) => id),
    field,
    pattern,
  );
  const sayings = sayingsOf(rows, Object.fromEntries(clips.map(({ id, version }) => [id, version])));
  if (sayings.length === 0)
    throw new Refused(400, { what: 'The pattern changes nothing', remedy: 'Look at the preview' });
  return say(db, production, sayings, `${field} by ${pattern}`, who);
}

/** Takes in what a CSV file says of clips. */
export async function sayCsv(
  db: DataSource,
  production: string,
  body: Uint8Array,
  who: string,
): Promise<{ change: string; clips: number }> {
  const { preview: made, versions } = await previewCsv(db, production, body);
  const sayings = sayingsOf(made.rows, versions ?? made.versions);
  if (sayings.length === 0) throw new Refused(400, { what: 'The file changes nothing', remedy: 'Look at the preview' });
  return say(db, production, sayings, 'a CSV file', who);
}

async function preview(
  db: DataSource,
  production: string,
  clips: readonly Identified[],
  changes: ReadonlyMap<string, IdentityRow['change']>,
  rest: Pick<IdentityPreview, 'empty' | 'refused' | 'ignored'> & { rows: ReadonlyMap<string, number> },
): Promise<IdentityPreview> {
  const all = await identified(db, production, null);
  const after = all.map((clip) => {
    const change = changes.get(clip.id);
    const now = identityOf(clip.said, clip.sidecarSaid, clip.description);
    if (!change) return { clip, now, then: now };
    const said: Record<string, unknown> = { ...clip.said };
    for (const [field, value] of Object.entries(change)) {
      if (value === null) Reflect.deleteProperty(said, field);
      else said[field] = value;
    }
    return { clip, now, then: identityOf(said, clip.sidecarSaid, clip.description) };
  });
  const touched = after.filter(({ clip }) => changes.has(clip.id) || clips.some((one) => one.id === clip.id));
  const around = neighboursOf(
    after.map(({ clip, then }) => ({
      path: clip.path,
      stem: clip.stem,
      reel: then.reel,
      start: clip.description.timecode,
      frames: clip.description.video?.frames ?? 0,
      rate: clip.description.video?.rate ?? null,
    })),
  );
  const sharing = after.filter(
    ({ clip }, index) => changes.has(clip.id) && (around[index]?.overlapping.length ?? 0) > 0,
  ).length;
  const pick = (identity: Identity, change: IdentityRow['change']): Partial<Identity> =>
    Object.fromEntries(Object.keys(change).map((field) => [field, identity[field as keyof Identity]]));
  return {
    rows: touched.map(({ clip, now, then }) => {
      const change = changes.get(clip.id) ?? {};
      const [before, afterwards] = [pick(now, change), pick(then, change)];
      return {
        clip: clip.id,
        stem: clip.stem,
        row: rest.rows.get(clip.id) ?? null,
        before,
        after: afterwards,
        changes: JSON.stringify(before) !== JSON.stringify(afterwards),
      };
    }),
    empty: rest.empty,
    refused: rest.refused,
    ignored: rest.ignored,
    clashes: countClashes(after.map(({ then }) => then)) + sharing,
    versions: Object.fromEntries(touched.map(({ clip }) => [clip.id, clip.version])),
  };
}

/** What a preview's rows come to as sayings, at the versions that were previewed. */
export function sayingsOf(rows: IdentityPreview['rows'], versions: Record<string, number>): Saying[] {
  return rows
    .filter((row) => row.changes)
    .map((row) => {
      const { circled, ...texts } = row.after;
      return {
        id: row.clip,
        version: versions[row.clip] ?? 0,
        change: { ...texts, ...(circled === undefined || circled === null ? {} : { circled }) },
      };
    });
}

/** The clips that fit a filter as CSV: what can be taken in again, and facts beside it. */
export async function clipsCsv(
  db: DataSource,
  production: string,
  filter: string,
  changed: readonly string[] | null,
): Promise<string> {
  const { where, parameters } = fitting(production, filter, changed);
  const ids = await db.query<{ id: string }[]>(`SELECT id FROM clip WHERE ${where}`, parameters);
  const clips = await identified(
    db,
    production,
    ids.map((row) => row.id),
  );
  const lines = clips.map((clip) => {
    const identity = identityOf(clip.said, clip.sidecarSaid, clip.description);
    const { video } = clip.description;
    return csvLine([
      clip.id,
      clip.path,
      clip.stem,
      clip.roll,
      ...identityFields.map((field) => identity[field]),
      identity.circled ? 'yes' : '',
      clip.description.timecode?.start ?? null,
      video?.frames ?? null,
      video ? `${video.rate.num}/${video.rate.den}` : null,
      video ? `${video.raster.width}x${video.raster.height}` : null,
      video?.codec ?? null,
      clip.description.sizeBytes,
    ]);
  });
  return `${[csvLine(['id', 'path', 'clip', 'roll', ...identityFields, 'circled', 'starts', 'frames', 'rate', 'raster', 'codec', 'bytes']), ...lines].join('\r\n')}\r\n`;
}
