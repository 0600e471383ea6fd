import type { ClipAnswer, CommonAnswer } from '@relay/contract/clips';
import { together } from '@relay/core/time/together';
import { clipFacts } from '@relay/core/clip/facts';
import type { ClipDescription } from '@relay/core/clip/description';
import { standingOf, type Decision } from '@relay/core/findings/findings';
import { levelOrder } from '@relay/core/findings/findings';
import type { Finding } from '@relay/core/findings/finding';
import { identityFields, identityOf, type Identity } from '@relay/core/identity/identity';
import type { Measured } from '@relay/core/measure/measured';
import type { DataSource } from 'typeorm';
import { correctionsInForce, inForceOfClip, type InForceRows } from './inForce.ts';
import { clipLines } from './queries.ts';

interface ClipRecord {
  id: string;
  productionId: string;
  storeId: string;
  root: string;
  path: string;
  roll: string;
  version: number;
  description: ClipDescription;
  said: Partial<Identity>;
  sidecarSaid: Partial<Identity>;
  sidecars: string[];
  findings: Finding[];
  measured: Measured | null;
  lookedAt: Date | null;
  lookProblem: string | null;
  poster: boolean;
  rollId: string | null;
  rollName: string | null;
  rollState: string | null;
  rollSays: string | null;
  decisions: Decision[] | null;
  inForce: InForceRows;
  proxy: boolean;
}

/** Everything about one clip; null when there is none of that id. */
export async function clipAnswer(db: DataSource, id: string): Promise<ClipAnswer | null> {
  const [row] = await db.query<ClipRecord[]>(
    `SELECT clip.id, clip.production_id AS "productionId", clip.store_id AS "storeId", clip.root, clip.path, clip.roll,
       clip.version, clip.description, clip.said, clip.sidecar_said AS "sidecarSaid", clip.sidecars, clip.findings,
       in_force.fields AS "inForce", clip.measured, clip.looked_at AS "lookedAt", clip.look_problem AS "lookProblem",
       clip.poster, roll.id AS "rollId", roll.name AS "rollName", roll.state AS "rollState",
       roll.result->'clearing'->>'says' AS "rollSays",
       (
         SELECT json_agg(
           json_build_object('rule', rule, 'answer', answer, 'note', note, 'by', who, 'at', at) ORDER BY at
         )
         FROM decision
         WHERE decision.clip_id = clip.id
       ) AS decisions,
       EXISTS (
         SELECT 1
         FROM output o
         JOIN leg ON leg.id = o.leg_id
         WHERE leg.clip_id = clip.id AND o.role = 'proxy' AND o.state IN ('proved', 'needs eyes')
       ) AS proxy
     FROM clip
     LEFT JOIN roll ON roll.id = clip.roll_id ${inForceOfClip}
     WHERE clip.id = $1 AND clip.description IS NOT NULL`,
    [id],
  );
  if (!row) return null;
  const decisions = row.decisions ?? [];
  const [line] = await clipLines(db, row.productionId, [id]);
  return {
    id: row.id,
    version: row.version,
    roll: row.roll,
    store: row.storeId,
    root: row.root,
    description: row.description,
    identity: identityOf(row.said, row.sidecarSaid, row.description),
    said: row.said,
    sidecarSaid: row.sidecarSaid,
    sidecars: row.sidecars,
    findings: row.findings,
    decisions,
    inForce: correctionsInForce(row.inForce),
    standing: standingOf(row.findings, decisions),
    custody:
      row.rollId && row.rollName
        ? { roll: row.rollName, rollId: row.rollId, state: row.rollState ?? '', says: row.rollSays ?? '' }
        : null,
    measured: row.measured,
    lookedAt: row.lookedAt?.toISOString() ?? null,
    lookProblem: row.lookProblem,
    poster: row.poster,
    proxy: row.proxy,
    way: line?.way ?? [],
  };
}

/** What the clips of a selection have in common, fact by fact. */
export async function commonOf(db: DataSource, production: string, ids: readonly string[]): Promise<CommonAnswer> {
  const rows = await db.query<
    {
      id: string;
      version: number;
      description: ClipDescription;
      said: Partial<Identity>;
      sidecarSaid: Partial<Identity>;
      findings: Finding[];
      bytes: number;
      seconds: number | null;
      decided: string[] | null;
    }[]
  >(
    `SELECT id, version, description, said, sidecar_said AS "sidecarSaid", findings, size_bytes::float AS bytes,
       seconds,
       (SELECT json_agg(rule) FROM decision WHERE decision.clip_id = clip.id) AS decided
     FROM clip
     WHERE production_id = $1 AND id = ANY($2::uuid[]) AND description IS NOT NULL`,
    [production, ids],
  );
  const same = <T>(value: (index: number) => T): T | undefined =>
    rows.length > 0 && rows.every((_, index) => value(index) === value(0)) ? value(0) : undefined;
  const identities = rows.map((row) => identityOf(row.said, row.sidecarSaid, row.description));
  const facts = clipFacts.map(([name, say]) => {
    const texts = rows.map((row) => say(row.description));
    return [name, same((index) => texts[index]) ?? null] as const;
  });
  const findings = new Map<string, CommonAnswer['findings'][number]>();
  for (const row of rows) {
    for (const { rule, level, text } of row.findings) {
      const sum = findings.get(rule) ?? { rule, level, text, clips: 0, undecided: 0 };
      findings.set(rule, {
        ...sum,
        clips: sum.clips + 1,
        undecided: sum.undecided + (row.decided?.includes(rule) ? 0 : 1),
      });
    }
  }
  return {
    clips: rows.length,
    seconds: together(rows.map((row) => row.seconds)),
    bytes: rows.reduce((sum, row) => sum + row.bytes, 0),
    facts,
    identity: Object.fromEntries(
      identityFields.map((field) => {
        const value = same((index) => identities[index]?.[field] ?? null);
        return [field, { same: value !== undefined, value: value ?? null }];
      }),
    ) as CommonAnswer['identity'],
    circled: same((index) => identities[index]?.circled ?? false) ?? null,
    findings: [...findings.values()].sort((a, b) => levelOrder[a.level] - levelOrder[b.level] || b.clips - a.clips),
    versions: Object.fromEntries(rows.map((row) => [row.id, row.version])),
  };
}
