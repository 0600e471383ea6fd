import type { ClipCorrections } from '@relay/core/corrections/corrections';
import { correctionFields, type CorrectionField, type FieldValues } from '@relay/core/corrections/fields';
import { type RasterWish, padColours } from '@relay/core/shape/intoRaster';
import { anchors } from '@relay/core/shape/window';
import { aspectProblem } from '@relay/core/shape/pixelAspects';
import type { SoundCorrection } from '@relay/core/sound/map';
import { type Conform, rateProblem } from '@relay/core/time/conform';
import { rational as fraction } from '@relay/core/time/rational';
import { chain, ruleScope } from './chain.ts';
import { clipIdList } from './ids.ts';
import { coreType } from './coreType.ts';
import { z } from 'zod';

/** Corrections of every kind, as files and requests hold them. */
const ratio = z
  .strictObject({
    num: z.number().int().min(-1_000_000_000).max(1_000_000_000),
    den: z.number().int().positive().max(1_000_000_000),
  })
  .transform(({ num, den }) => fraction(num, den));

export const aspect = ratio.superRefine((value, context) => {
  const wrong = aspectProblem(value);
  if (wrong) context.addIssue({ code: 'custom', message: wrong });
});

const rate = ratio.superRefine((value, context) => {
  const wrong = rateProblem(value);
  if (wrong) context.addIssue({ code: 'custom', message: wrong });
});

const side = z.number().int().min(0).max(16_384);

const crop = z.strictObject({ left: side, top: side, right: side, bottom: side });

const turn = z.strictObject({ quarters: z.number().int().min(0).max(3), across: z.boolean(), down: z.boolean() });

const square = z.enum(['columns', 'rows', 'keep']);

const timecode = z.enum(['as labelled', 'recounted']).default('as labelled');

export const conform: z.ZodType<Conform> = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('relabel'),
    rate,
    timecode,
    sound: z.enum(['stretched', 'pitch kept', 'dropped']).default('stretched'),
  }),
  z.strictObject({ kind: z.literal('resample'), rate, how: z.enum(['hold', 'blend']).default('hold'), timecode }),
  z.strictObject({ kind: z.literal('pulldown-out'), phase: z.number().int().min(0).max(4), timecode }),
  z.strictObject({ kind: z.literal('pulldown-in'), timecode }),
  z.strictObject({ kind: z.literal('constant'), rate }),
]);

const channel = z.number().int().min(0).max(255);

const feed = z.strictObject({ channel, gain: z.number().min(-16).max(16).default(1) });

export const soundCorrection: z.ZodType<SoundCorrection> = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('keep') }),
  z.strictObject({ kind: z.literal('pick'), channels: z.array(channel).min(1).max(64) }),
  z.strictObject({ kind: z.literal('fold'), to: z.enum(['stereo', 'mono']) }),
  z.strictObject({
    kind: z.literal('matrix'),
    tracks: z
      .array(
        z.strictObject({
          label: z
            .string()
            .trim()
            .min(1)
            .max(60)
            .regex(/^[^\u0000-\u001f]*$/u)
            .optional(),
          channels: z.array(z.array(feed).max(64)).min(1).max(16),
        }),
      )
      .min(1)
      .max(64),
  }),
]);

const readScan = z.enum(['progressive', 'top-field-first', 'bottom-field-first']);

const deinterlaced = z.enum(['single', 'double']);

const strength = z.union([z.literal(1), z.literal(2), z.literal(3)]);

const repair = z.strictObject({ denoise: strength.optional(), stabilise: strength.optional() });

const colour = z.enum(padColours).optional();

/** What a corrections file changes on the clips that a rule fits. */
export const clipCorrections: z.ZodType<ClipCorrections> = z.strictObject({
  shape: z
    .strictObject({
      squeeze: aspect.optional(),
      pixelAspect: aspect.optional(),
      crop: crop.optional(),
      turn: turn.optional(),
      square: square.optional(),
    })
    .optional(),
  time: conform.nullable().optional(),
  scan: z.strictObject({ read: readScan.optional(), deinterlaced: deinterlaced.optional() }).optional(),
  sound: soundCorrection.optional(),
  repair: repair.optional(),
  identity: z.strictObject({ reel: z.string().max(64).optional() }).optional(),
  colour: chain.nullable().optional(),
});

const raster = z.number().int().min(16).max(16_384);

const anchor = z.enum(anchors).optional();

/** The raster that a deliverable wants. */
export const rasterWish: z.ZodType<RasterWish> = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('source') }),
  z.strictObject({ kind: z.literal('share'), of: z.union([z.literal(2), z.literal(3), z.literal(4)]) }),
  z.strictObject({ kind: z.literal('fit'), width: raster, height: raster, enlarge: z.boolean().optional() }),
  z.strictObject({
    kind: z.literal('pad'),
    width: raster,
    height: raster,
    enlarge: z.boolean().optional(),
    anchor,
    colour,
  }),
  z.strictObject({ kind: z.literal('fill'), width: raster, height: raster, enlarge: z.boolean().optional(), anchor }),
  z.strictObject({ kind: z.literal('cut'), width: raster, height: raster, anchor, colour }),
]);

/** Fields of corrections as rules are said of them; null is *left alone, on purpose*, undefined is *not touched*. */
export const fieldValues = z
  .strictObject({
    colour: chain.nullable(),
    squeeze: aspect.nullable(),
    pixelAspect: aspect.nullable(),
    square: square.nullable(),
    crop: crop.nullable(),
    turn: turn.nullable(),
    time: conform.nullable(),
    scan: readScan.nullable(),
    deinterlace: deinterlaced.nullable(),
    sound: soundCorrection.nullable(),
    repair: repair.nullable(),
  })
  .partial();

/** A rule that holds for one field of a clip: where it was said, by whom, when. */
export const ruleInForce = z.strictObject({ scope: ruleScope, who: z.string(), at: z.string() });
export type RuleInForce = z.infer<typeof ruleInForce>;

/** The corrections that hold for a clip, with where each comes from. */
export const correctionsInForce = z.strictObject({
  fields: coreType<Partial<FieldValues>>(),
  from: z.partialRecord(z.enum(correctionFields), ruleInForce),
});
export type CorrectionsInForce = z.infer<typeof correctionsInForce>;

/** Which clips a rule is said of. */
export const target = z.discriminatedUnion('scope', [
  z.strictObject({ scope: z.literal('clip'), clips: clipIdList(1) }),
  z.strictObject({ scope: z.literal('roll'), key: z.string().max(200) }),
  z.strictObject({ scope: z.literal('group'), key: z.string().max(400) }),
  z.strictObject({ scope: z.literal('production') }),
]);

export type Target = z.input<typeof target>;

/** Only the fields given are touched; the names in `clear` lose their rule, so that a farther one holds again. */
export const correctionsRequest = z.strictObject({
  to: target,
  fields: fieldValues.default({}),
  clear: z.array(z.string().max(20)).max(20).default([]),
});

export const correctionsChanged = z.strictObject({
  change: z.string(),
  clips: z.number(),
  /** Nearer rules that were taken away so that this one holds. */
  replaced: z.number(),
});
export type CorrectionsChanged = z.infer<typeof correctionsChanged>;

/** Corrections of a selection: what all of its clips share, and the names of the fields in which they differ. */
export const commonCorrections = z.strictObject({
  clips: z.number(),
  fields: coreType<Partial<FieldValues>>(),
  mixed: z.array(coreType<CorrectionField>()),
  /** What will be done, in sentences, with how many clips each is for. */
  said: z.array(z.strictObject({ text: z.string(), clips: z.number() })),
});
export type CommonCorrections = z.infer<typeof commonCorrections>;
