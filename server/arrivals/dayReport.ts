import type { ReportAnswer, ReportRoll } from '@relay/contract/clips';
import { sayGroup } from '@relay/core/clip/group';
import { together } from '@relay/core/time/together';
import type { ClipDescription } from '@relay/core/clip/description';
import { gapsIn } from '@relay/core/clip/gaps';
import { levelOrder } from '@relay/core/findings/findings';
import type { Finding } from '@relay/core/findings/finding';
import type { DataSource } from 'typeorm';
import type { Tools } from '../desk/tools.ts';
import { rollLines } from './rolls.ts';
import { notThere } from '../http.ts';
import type { Stores } from '../stores/stores.ts';

interface Row {
  roll: string;
  rollId: string | null;
  day: string;
  stem: string;
  grp: string;
  description: ClipDescription;
  findings: Finding[];
  bytes: number;
  seconds: number | null;
}

/**
 * A clip's day: its roll's, else the shooting-day folder that it was read from, else the day it was recorded on. The
 * folder is told as core/clip/roll.ts tells it.
 */
const dayOf = `coalesce(roll.day, substring(clip.path from '(?i)^((?:day[ _-]?[0-9]+)|(?:[0-9]{4}-?[0-9]{2}-?[0-9]{2}))/'), to_char(clip.modified_at AT TIME ZONE 'UTC', 'YYYY-MM-DD'), 'no day')`;

/** What a shooting day came to; the last one where none is named. Worked out at the desk. */
export async function report(
  { db, stores }: Tools,
  production: string,
  wanted: string | undefined,
): Promise<ReportAnswer> {
  const [found] = await db.query<{ name: string }[]>('SELECT name FROM production WHERE id = $1', [production]);
  if (!found) throw notThere('The production');
  const days = (
    await db.query<{ day: string }[]>(
      `SELECT day
       FROM (
         SELECT ${dayOf} AS day
         FROM clip
         LEFT JOIN roll ON roll.id = clip.roll_id
         WHERE clip.production_id = $1 AND clip.description IS NOT NULL
         UNION
         SELECT day
         FROM roll
         WHERE production_id = $1
       ) d
       GROUP BY day
       ORDER BY day`,
      [production],
    )
  ).map((row) => row.day);
  const day = wanted !== undefined && days.includes(wanted) ? wanted : (days.at(-1) ?? 'no day');
  const rolls = await rollsOf(db, stores, production, day);
  const sum = (value: (roll: ReportRoll) => number): number => rolls.reduce((total, roll) => total + value(roll), 0);
  return {
    production: found.name,
    day,
    days,
    rolls,
    clips: sum((roll) => roll.clips),
    seconds: together(rolls.map((roll) => roll.seconds)),
    bytes: sum((roll) => roll.bytes),
    madeAt: new Date().toISOString(),
  };
}

async function rollsOf(db: DataSource, stores: Stores, production: string, day: string): Promise<ReportRoll[]> {
  const rows = await db.query<Row[]>(
    `SELECT clip.roll, clip.roll_id AS "rollId", ${dayOf} AS day, clip.stem, clip.grp, clip.description, clip.findings,
       clip.size_bytes::float AS bytes, clip.seconds
     FROM clip
     LEFT JOIN roll ON roll.id = clip.roll_id
     WHERE clip.production_id = $1 AND clip.description IS NOT NULL AND ${dayOf} = $2
     ORDER BY clip.roll, clip.path`,
    [production, day],
  );
  const arrived = (await rollLines(db, stores, production)).filter((roll) => roll.day === day);
  const names = [...new Set([...rows.map((row) => row.roll), ...arrived.map((roll) => roll.name)])].sort();
  return names.map((name) => {
    const clips = rows.filter((row) => row.roll === name);
    const roll = arrived.find((one) => one.name === name);
    const findings = new Map<string, ReportRoll['findings'][number]>();
    for (const { rule, level, text } of clips.flatMap((clip) => clip.findings)) {
      const one = findings.get(rule) ?? { level, text, clips: 0 };
      findings.set(rule, { ...one, clips: one.clips + 1 });
    }
    return {
      name,
      rollId: roll?.id ?? null,
      clips: clips.length,
      soundClips: clips.filter((clip) => clip.description.video === null).length,
      seconds: together(clips.map((clip) => clip.seconds)),
      bytes: roll && roll.bytes > 0 ? roll.bytes : clips.reduce((sum, clip) => sum + clip.bytes, 0),
      formats: [...new Map(clips.map((clip) => [clip.grp, sayGroup(clip.description)])).values()],
      gaps: gapsIn(clips.map((clip) => clip.stem)),
      findings: [...findings.values()].sort((a, b) => levelOrder[a.level] - levelOrder[b.level] || b.clips - a.clips),
      custody: roll ? roll.clearing.says : 'Read where it lies; no copy of ours',
    };
  });
}

/** A day's rolls as lines of a table, its head first. */
export function reportTable({ day, rolls }: ReportAnswer): (string | number)[][] {
  const head = ['day', 'roll', 'clips', 'sound clips', 'seconds', 'bytes', 'formats', 'gaps', 'findings', 'custody'];
  return [
    head,
    ...rolls.map((roll) => [
      day,
      roll.name,
      roll.clips,
      roll.soundClips,
      roll.seconds?.toFixed(2) ?? '',
      roll.bytes,
      roll.formats.join('; '),
      roll.gaps.join(' '),
      roll.findings.map((finding) => `${finding.text} (${finding.clips})`).join('; '),
      roll.custody,
    ]),
  ];
}
