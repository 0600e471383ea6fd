import type { ClipDescription } from '@relay/core/clip/description';
import { unsaidLut } from '@relay/core/colour/chain/end';
import { searchText } from '@relay/core/clip/searchText';
import { neighboursOf, type Neighbour } from '@relay/core/findings/around';
import { findingsOf, levelOrder, standingOf, type Decision } from '@relay/core/findings/findings';
import type { Finding } from '@relay/core/findings/finding';
import { identityOf, type Identity } from '@relay/core/identity/identity';
import type { Measured } from '@relay/core/measure/measured';
import type { Rational } from '@relay/core/time/rational';
import type { DataSource } from 'typeorm';
import { correctionsInForce, inForceOfClip, type InForceRows } from './inForce.ts';

/** Clips whose findings are worked out at a time; between two lots others get their turn. */
const lot = 400;

interface Around extends Neighbour {
  id: string;
}

interface Full {
  id: string;
  roll: string;
  description: ClipDescription;
  measured: Measured | null;
  said: Partial<Identity>;
  sidecarSaid: Partial<Identity>;
  rollState: string | null;
  copyBad: boolean | null;
  decisions: Decision[] | null;
  inForce: InForceRows;
}

/**
 * Works out findings, their gravity and the words to search by, anew: of some clips, or of all in a production (after
 * anything that neighbours see: names, reels, timecode).
 */
export async function refreshClips(
  db: DataSource,
  production: string,
  only: readonly string[] | null = null,
): Promise<void> {
  const [row] = await db.query<
    {
      rate: Rational | null;
    }[]
  >('SELECT rate FROM production WHERE id = $1', [production]);
  const around = await db.query<Around[]>(
    `SELECT id, path, stem, coalesce(said->>'reel', sidecar_said->>'reel', description->>'reel') AS reel,
       CASE WHEN starts IS NULL THEN NULL ELSE description->'timecode' END AS start,
       coalesce((description->'video'->>'frames')::int, 0) AS frames, description->'video'->'rate' AS rate
     FROM clip
     WHERE production_id = $1 AND description IS NOT NULL
     ORDER BY path`,
    [production],
  );
  const neighbours = new Map(neighboursOf(around).map((found, index) => [(around[index] as Around).id, found]));
  const wanted = only ?? around.map((clip) => clip.id);
  for (let at = 0; at < wanted.length; at += lot) {
    const rows = await db.query<Full[]>(
      `SELECT clip.id, clip.roll, clip.description, clip.measured, clip.said, clip.sidecar_said AS "sidecarSaid",
         roll.state AS "rollState",
         (
           SELECT bool_or(NOT (verification->>'verified')::boolean)
           FROM roll_copy
           WHERE roll_copy.roll_id = clip.roll_id AND roll_copy.store_id = clip.store_id
         ) AS "copyBad",
         (
           SELECT json_agg(json_build_object('rule', rule, 'answer', answer, 'note', note, 'by', who, 'at', at))
           FROM decision
           WHERE decision.clip_id = clip.id
         ) AS decisions,
         in_force.fields AS "inForce"
       FROM clip
       LEFT JOIN roll ON roll.id = clip.roll_id ${inForceOfClip}
       WHERE clip.production_id = $1 AND clip.id = ANY($2::uuid[]) AND clip.description IS NOT NULL`,
      [production, wanted.slice(at, at + lot)],
    );
    const made = rows.map((clip) => {
      const said = correctionsInForce(clip.inForce).fields;
      const identity = identityOf(clip.said, clip.sidecarSaid, clip.description);
      const findings = findingsOf({
        clip: clip.description,
        reel: identity.reel,
        measured: clip.measured,
        recorded: said.colour?.input ?? null,
        unsaidLut: said.colour ? unsaidLut(said.colour) : null,
        scanSaid: said.scan ?? null,
        conformSaid: Boolean(said.time),
        productionRate: row?.rate ?? null,
        ...(neighbours.get(clip.id) ?? { sameName: [], overlapping: [] }),
        custody:
          clip.rollState === null ? 'none' : clip.rollState === 'proved' && !clip.copyBad ? 'proved' : 'unproved',
      });
      return {
        id: clip.id,
        findings,
        gravest: gravestOf(findings, clip.decisions ?? []),
        search: searchText(clip.description, clip.roll, identity, findings),
      };
    });
    await db.query(
      `UPDATE clip
       SET findings = made.findings, gravest = made.gravest, search = made.search
       FROM jsonb_to_recordset($1::jsonb) AS made(id uuid, findings jsonb, gravest int, search text)
       WHERE clip.id = made.id
         AND (clip.findings, clip.gravest, clip.search) IS DISTINCT FROM (made.findings, made.gravest::smallint, made.search)`,
      [JSON.stringify(made)],
    );
  }
}

/** 0 stop, 1 decide, 2 note, 3 none: of the gravest finding nobody has answered. */
function gravestOf(findings: readonly Finding[], decisions: readonly Decision[]): number {
  const { toDecide } = standingOf(findings, decisions);
  const answered = new Set(decisions.map((decision) => decision.rule));
  if (findings.some((finding) => finding.level === 'stop' && !answered.has(finding.rule))) return levelOrder.stop;
  if (toDecide.length > 0) return levelOrder.decide;
  return findings.length > 0 ? levelOrder.note : 3;
}
