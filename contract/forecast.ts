import { z } from 'zod';

/** What outputs will take. */

export const byteRange = z.strictObject({ least: z.number(), likely: z.number(), most: z.number() });
export type ByteRange = z.infer<typeof byteRange>;

export const secondsRange = z.strictObject({ likely: z.number(), most: z.number() });

/** What a deliverable takes over all clips: a range that holds nine times in ten, and how it is known. */
export const deliverableForecast = z.strictObject({
  deliverable: z.string(),
  outputs: z.number(),
  bytes: byteRange,
  known: z.enum(['exact', 'by frame sizes', 'by published rates', 'by sampled pictures', 'roughly']),
  warnings: z.array(z.string()),
});
export type DeliverableForecast = z.infer<typeof deliverableForecast>;

/** A forecast by sampled pictures of some of a run's clips. */
export const sampledForecast = z.strictObject({
  sampled: z.number(),
  of: z.number(),
  deliverables: z.array(deliverableForecast.pick({ deliverable: true, bytes: true, known: true })),
  bytes: byteRange,
  seconds: secondsRange.nullable(),
});
export type SampledForecast = z.infer<typeof sampledForecast>;
