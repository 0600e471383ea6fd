import type { ImageAnswer } from '@relay/contract/burn';
import { pngSize } from '@relay/core/burn/png';
import { createHash } from 'node:crypto';
import { basename } from 'node:path';
import type { DataSource } from 'typeorm';
import { overlayImage } from '../db/entities/recipes.ts';
import { Refused } from '../http.ts';
import type { ImageBytes } from '@relay/work/leg/ready';

/** Keeps a picture under the hash of its bytes; the same bytes again are the same picture. */
export async function keepImage(db: DataSource, bytes: Buffer, fileName: string): Promise<ImageAnswer> {
  const name = basename(fileName).slice(0, 200) || 'image';
  const size = pngSize(Buffer.isBuffer(bytes) ? bytes : Buffer.alloc(0));
  if (!size.ok)
    throw new Refused(400, {
      what: `${name} cannot be laid over: ${size.problem.what.toLowerCase()}`,
      remedy: size.problem.remedy,
    });
  const hash = createHash('sha256').update(bytes).digest('hex');
  const { width, height } = size.value;
  await db
    .createQueryBuilder()
    .insert()
    .into(overlayImage)
    .values({ hash, name, bytes, width, height })
    .orIgnore()
    .execute();
  return { image: hash, name, ...size.value };
}

export async function imageOf(db: DataSource, hash: string): Promise<Buffer | null> {
  return (await db.manager.findOneBy(overlayImage, { hash }))?.bytes ?? null;
}

/** Pictures for legs, by their key. */
export function keptImage(db: DataSource): ImageBytes {
  return (key) => imageOf(db, key);
}
