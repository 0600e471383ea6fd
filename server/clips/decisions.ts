import type { DataSource } from 'typeorm';
import { tell } from '../live/notify.ts';
import { refreshClips } from './refresh.ts';

/** Until people sign in there is one member. */
export const member = 'assistant';

/** A clip, and the findings of it that are answered. */
export interface Answered {
  clip: string;
  rules: readonly string[];
}

/**
 * Writes down who answered findings, and how; null takes an answer back. Only findings that a clip has can be answered.
 * What follows for the sheet is `decided`'s.
 */
export async function decide(
  { db }: { db: DataSource },
  production: string,
  answered: readonly Answered[],
  answer: 'as it is' | 'leave out' | null,
  note: string,
): Promise<void> {
  const those = 'jsonb_to_recordset($2::jsonb) AS answered(clip uuid, rules text[])';
  if (answer === null) {
    await db.query(
      `DELETE
       FROM decision USING clip, ${those}
       WHERE decision.clip_id = clip.id
         AND clip.production_id = $1
         AND clip.id = answered.clip
         AND rule = ANY(answered.rules)`,
      [production, JSON.stringify(answered)],
    );
    return;
  }
  await db.query(
    `INSERT INTO decision (clip_id, rule, answer, note, who)
     SELECT clip.id, finding->>'rule', $3, $4, $5
     FROM ${those}
     JOIN clip ON clip.id = answered.clip, jsonb_array_elements(clip.findings) finding
     WHERE clip.production_id = $1 AND finding->>'rule' = ANY(answered.rules) AND finding->>'level' <> 'note'
     ON CONFLICT (clip_id, rule) DO UPDATE SET
       answer = excluded.answer, note = excluded.note, who = excluded.who, at = now()`,
    [production, JSON.stringify(answered), answer, note, member],
  );
}

/** Works out what answers mean for the sheet, and tells who looks at it. */
export async function decided(
  { db }: { db: DataSource },
  production: string,
  answered: readonly Answered[],
): Promise<void> {
  if (answered.length === 0) return;
  await refreshClips(
    db,
    production,
    answered.map(({ clip }) => clip),
  );
  await tell(db, { kind: 'changed', what: 'clips', production });
}
