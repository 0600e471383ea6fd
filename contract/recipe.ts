import type { CorrectionsFile } from '@relay/core/corrections/corrections';
import type { Recipe } from '@relay/core/recipe/recipe';
import { z } from 'zod';
import { burnLayout } from './burn.ts';
import { stateName } from './colour.ts';
import { clipCorrections, rasterWish } from './corrections.ts';

/** A folder inside the run's folder: plain names with `/` between, so that nothing leads outside. */
const folder = z.string().max(200).regex(/^(?:[^/\\\u0000-\u001f]+(?:\/[^/\\\u0000-\u001f]+)*)?$/u, 'a folder is plain names with / between')
  .refine((text) => text.split('/').every((name) => name !== '.' && name !== '..'), 'a folder may not lead upwards');


export const deliverableColour = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('as-shot') }), z.strictObject({ kind: z.literal('beside') }), z.strictObject({ kind: z.literal('baked') }),
  z.strictObject({ kind: z.literal('brought'), state: stateName }),
]);

const deliverable = z.strictObject({
  name: z.string().min(1).max(80),
  role: z.enum(['intermediate', 'proxy', 'review']),
  folder,
  wrapper: z.literal('mov'),
  codec: z.discriminatedUnion('id', [
    z.strictObject({ id: z.literal('prores'), profile: z.enum(['proxy', 'lt', '422', 'hq']) }),
    z.strictObject({ id: z.literal('h264'), quality: z.number().int().min(0).max(51) }),
  ]),
  raster: rasterWish,
  interlaced: z.enum(['keep', 'deinterlace']),
  colour: deliverableColour.optional(),
  burn: burnLayout.optional(),
  sound: z.strictObject({ codec: z.literal('pcm'), sampleRate: z.literal(48_000), bitDepth: z.union([z.literal(16), z.literal(24)]).optional() }),
});

/** What is said anew of one deliverable, named by its folder; what is not given stays. A burn-in of null takes it away. */
export const deliverableChange = z.strictObject({ folder, colour: deliverableColour.optional(), raster: rasterWish.optional(), burn: burnLayout.nullable().optional() });

/** A recipe file, version 1. Unknown fields are refused: a wish that is silently passed over is a mistake in a thousand files. */
export const recipe: z.ZodType<Recipe> = z.strictObject({
  version: z.literal(1), name: z.string().min(1).max(120), deliverables: z.array(deliverable).min(1).max(20),
}).refine((value) => new Set(value.deliverables.map((d) => d.folder)).size === value.deliverables.length, 'each deliverable needs a folder of its own');

/** A corrections file, version 1. */
export const correctionsFile: z.ZodType<CorrectionsFile> = z.strictObject({
  version: z.literal(1),
  rules: z.array(z.strictObject({
    when: z.strictObject({ path: z.string().optional(), roll: z.string().optional(), codecId: z.string().optional() }),
    change: clipCorrections,
  })),
});
