/** Tests hurry: what waits is so many times as quick. */
const hurry = Math.max(1, Number(process.env.RELAY_HURRY ?? 1) || 1);

/**
 * How long a worker holds a leg without renewing it. A worker renews much more often; what lapses was lost with its
 * worker, so it is as short as a machine may stand still.
 */
export const leaseSeconds = 15 / hurry;

/** How often a worker says that it is there, and takes up what others left lying. */
export const sweepMs = 3_000 / hurry;

/** How long a worker that cannot take what waits leaves it to others before it looks again. */
export const standBackMs = 3_000 / hurry;

/** How long one that may not work in quiet hours rests before it looks again. */
export const restMs = 15_000 / hurry;
