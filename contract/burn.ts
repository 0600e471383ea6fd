import { type BurnFact, type BurnLayout, burnFacts, burnSizes, checkLayout } from '@relay/core/burn/layout';
import { anchors } from '@relay/core/shape/window';
import { z } from 'zod';

/** What is drawn over a deliverable, as recipes hold it. */
const words = z
  .string()
  .min(1)
  .max(120)
  .regex(/^[^\u0000-\u001f\u007f]*$/u, 'no line breaks or control characters');

const piece = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('fact'), fact: z.enum(Object.keys(burnFacts) as [BurnFact, ...BurnFact[]]) }),
  z.strictObject({ kind: z.literal('text'), text: words }),
]);

const pieces = z.array(piece).min(1).max(8);

const at = z.enum(anchors);

const side = z.number().int().min(1).max(8192);

export const burnLayout: z.ZodType<BurnLayout> = z
  .strictObject({
    size: z.enum(Object.keys(burnSizes) as [keyof typeof burnSizes, ...(keyof typeof burnSizes)[]]),
    lines: z.array(z.strictObject({ at, pieces })).max(16),
    mark: z
      .strictObject({
        as: z.enum(['across', 'corner']),
        at,
        strength: z.enum(['faint', 'clear']),
        pieces,
        recipients: z.array(words.max(60)).max(50),
      })
      .optional(),
    image: z
      .strictObject({
        image: z.string().min(1).max(400),
        width: side,
        height: side,
        at,
        share: z.number().positive().max(1),
        opacity: z.number().positive().max(1),
        frames: z.number().int().min(1).max(100_000).optional(),
      })
      .optional(),
  })
  .superRefine((layout, context) => {
    const checked = checkLayout(layout);
    if (!checked.ok) context.addIssue({ code: 'custom', message: checked.problem.what });
  });

/** Bytes of a picture that is taken in: a slate of UHD with soft edges is a few megabytes. */
export const largestImageBytes = 16_000_000;

/** A picture that is kept to be laid over: named by its content. */
export const imageAnswer = z.strictObject({
  image: z.string(),
  name: z.string(),
  width: z.number(),
  height: z.number(),
});
export type ImageAnswer = z.infer<typeof imageAnswer>;
