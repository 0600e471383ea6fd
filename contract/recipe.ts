import type { CorrectionsFile } from '@relay/core/corrections/corrections';
import { wrapperIds, type Recipe, type CodecOf, type SoundCodec, type VideoCodec } from '@relay/core/recipe/recipe';
import { wrapperProblem } from '@relay/core/recipe/wrappers';
import type { RateWish } from '@relay/core/size/target';
import { parsePathPattern, type PathPattern } from '@relay/core/naming/pathPattern';
import { z } from 'zod';
import { burnLayout } from './burn.ts';
import { stateName } from './chain.ts';
import { clipCorrections, rasterWish } from './corrections.ts';

/** A folder inside the run's folder: plain names with `/` between, so that nothing leads outside. */
const folder = z
  .string()
  .max(200)
  .regex(/^(?:[^/\\\u0000-\u001f]+(?:\/[^/\\\u0000-\u001f]+)*)?$/u, 'a folder is plain names with / between')
  .refine((text) => text.split('/').every((name) => name !== '.' && name !== '..'), 'a folder may not lead upwards');

export const pathPattern: z.ZodType<PathPattern> = z.strictObject({
  pattern: z
    .string()
    .max(200)
    .superRefine((text, context) => {
      const read = parsePathPattern(text);
      if (!read.ok) context.addIssue({ code: 'custom', message: `${read.problem.what}. ${read.problem.remedy}` });
    }),
  letters: z.enum(['lower', 'upper']).optional(),
  replace: z.enum(['-', '_']).optional(),
  limit: z.number().int().min(40).max(4000).optional(),
});

export const deliverableColour = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('as-shot') }),
  z.strictObject({ kind: z.literal('beside') }),
  z.strictObject({ kind: z.literal('baked') }),
  z.strictObject({ kind: z.literal('brought'), state: stateName }),
]);

export const rateWish: z.ZodType<RateWish> = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('average'),
    bitsPerSecond: z.number().int().min(10_000).max(2_000_000_000),
    passes: z.union([z.literal(1), z.literal(2)]),
  }),
  z.strictObject({ kind: z.literal('size'), bytes: z.number().int().min(10_000).max(1e14) }),
  z.strictObject({ kind: z.literal('share'), percent: z.number().min(0.1).max(400) }),
]);
const long = {
  quality: z.number().int().min(0).max(51),
  rate: rateWish.optional(),
  bitDepth: z.union([z.literal(8), z.literal(10)]).optional(),
  chroma: z.enum(['4:2:0', '4:2:2']).optional(),
  intra: z.literal(true).optional(),
  effort: z.enum(['quick', 'balanced', 'thorough']).optional(),
  grain: z.literal('kept').optional(),
};
/** A schema for each codec of core/recipe/codecs.ts: one that is missing does not compile. */
const codecCases = {
  prores: z.strictObject({
    id: z.literal('prores'),
    profile: z.enum(['proxy', 'lt', '422', 'hq', '4444', '4444xq']),
    alpha: z.literal('kept').optional(),
  }),
  vc3: z.strictObject({ id: z.literal('vc3'), profile: z.enum(['lb', 'sq', 'hq', 'hqx', '444']) }),
  vc3hd: z.strictObject({ id: z.literal('vc3hd'), grade: z.enum(['low', 'standard', 'high', 'high-10']) }),
  vc5: z.strictObject({ id: z.literal('vc5'), quality: z.enum(['low', 'medium', 'high', 'film']) }),
  h264: z.strictObject({ id: z.literal('h264'), ...long }),
  hevc: z.strictObject({ id: z.literal('hevc'), ...long }),
  av1: z.strictObject({ id: z.literal('av1'), quality: z.number().int().min(1).max(63) }),
  mjpeg: z.strictObject({ id: z.literal('mjpeg'), quality: z.number().int().min(2).max(31) }),
  ffv1: z.strictObject({ id: z.literal('ffv1'), sampling: z.enum(['4:2:0 8', '4:2:2 8', '4:2:2 10', '4:4:4 10']) }),
  v210: z.strictObject({ id: z.literal('v210') }),
  pictures: z.strictObject({ id: z.literal('pictures'), format: z.enum(['dpx', 'tiff', 'png', 'exr']) }),
  none: z.strictObject({ id: z.literal('none') }),
} satisfies { readonly [Id in VideoCodec['id']]: z.ZodType<CodecOf<Id>> };
type CodecCase = (typeof codecCases)[VideoCodec['id']];

export const videoCodec: z.ZodType<VideoCodec> = z
  .discriminatedUnion('id', Object.values(codecCases) as [CodecCase, ...CodecCase[]])
  .refine(
    (codec) => !('chroma' in codec) || codec.chroma !== '4:2:2' || codec.bitDepth === 10,
    '4:2:2 is made with 10 bits',
  )
  .refine(
    (codec) => codec.id !== 'prores' || codec.alpha === undefined || codec.profile.startsWith('4444'),
    'alpha needs a 4444 profile',
  );
export const soundCodec: z.ZodType<SoundCodec> = z.discriminatedUnion('codec', [
  z.strictObject({
    codec: z.literal('pcm'),
    sampleRate: z.literal(48_000),
    bitDepth: z.union([z.literal(16), z.literal(24)]).optional(),
  }),
  z.strictObject({
    codec: z.literal('aac'),
    sampleRate: z.literal(48_000),
    bitsPerSecond: z.number().int().min(32_000).max(320_000).optional(),
  }),
]);

const deliverable = z
  .strictObject({
    name: z.string().min(1, 'a name is needed').max(80),
    role: z.enum(['intermediate', 'proxy', 'review']),
    folder,
    place: z.strictObject({ store: z.string().min(1).max(80), folder }).optional(),
    path: pathPattern.optional(),
    wrapper: z.enum(wrapperIds),
    codec: videoCodec,
    raster: rasterWish,
    interlaced: z.enum(['keep', 'deinterlace']),
    colour: deliverableColour.optional(),
    burn: burnLayout.optional(),
    sound: soundCodec,
  })
  .superRefine(({ wrapper, codec, sound }, context) => {
    const problem = wrapperProblem(wrapper, codec.id, sound.codec);
    if (problem) context.addIssue({ code: 'custom', message: problem, path: ['wrapper'] });
  });

/**
 * What is said anew of one deliverable, named by its folder; what is not given stays. A burn-in of null takes it away.
 */
export const deliverableChange = z.strictObject({
  folder,
  colour: deliverableColour.optional(),
  raster: rasterWish.optional(),
  burn: burnLayout.nullable().optional(),
});

/**
 * A recipe file, version 1. Unknown fields are refused: a wish that is silently passed over is a mistake in a thousand
 * files.
 */
export const recipe: z.ZodType<Recipe> = z
  .strictObject({
    version: z.literal(1),
    name: z.string().min(1, 'a name is needed').max(120),
    deliverables: z.array(deliverable).min(1).max(20),
  })
  .refine(
    (value) => new Set(value.deliverables.map((d) => d.folder)).size === value.deliverables.length,
    'each deliverable needs a folder of its own',
  );

/** A corrections file, version 1. */
export const correctionsFile: z.ZodType<CorrectionsFile> = z.strictObject({
  version: z.literal(1),
  rules: z.array(
    z.strictObject({
      when: z.strictObject({
        path: z.string().optional(),
        roll: z.string().optional(),
        codecId: z.string().optional(),
      }),
      change: clipCorrections,
    }),
  ),
});
