import type { ImageAnswer } from '@relay/contract/burn';
import { pngSize } from '@relay/core/burn/png';
import { createHash } from 'node:crypto';
import { basename } from 'node:path';
import type { DataSource } from 'typeorm';
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
  await db.query(
    'INSERT INTO overlay_image (hash, name, bytes, width, height) VALUES ($1, $2, $3, $4, $5) ON CONFLICT (hash) DO NOTHING',
    [hash, name, bytes, size.value.width, size.value.height],
  );
  return { image: hash, name, ...size.value };
}

export async function imageOf(db: DataSource, hash: string): Promise<Buffer | null> {
  const [row] = await db.query<{ bytes: Buffer }[]>('SELECT bytes FROM overlay_image WHERE hash = $1', [hash]);
  return row?.bytes ?? null;
}

/** Pictures for legs, by their key. */
export function keptImage(db: DataSource): ImageBytes {
  return (key) => imageOf(db, key);
}
