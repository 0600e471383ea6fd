import { z } from 'zod';

/** What becomes of a leg, or of one of its outputs. */

/** What server and web say to each other. Requests are checked with the schemas; answers have these types. */
export const legState = z.enum(['waiting', 'held', 'running', 'proving', 'proved', 'needs eyes', 'failed', 'stopped']);
export type LegState = z.infer<typeof legState>;

export const openStates: readonly LegState[] = ['waiting', 'held', 'running', 'proving'];
