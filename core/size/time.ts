/**
 * What proving, checksums and sampling add to making, and what a leg and each of its outputs take however short the
 * clip: fitted on two cores to five recipes on the demo's clips of one to three seconds and one on clips of 22 and 45
 * (docs/decisions/0018 says how well).
 */
const besideMaking = 1.35;
const [legStart, outputStart] = [0.5, 0.3];

/**
 * Seconds of a machine's work for a leg of so many frames, each of which takes `frameSeconds` to make for all outputs
 * together.
 */
export function legSeconds(frameSeconds: number, frames: number, outputs: number): number {
  return frameSeconds * frames * besideMaking + legStart + outputStart * outputs;
}

/** How much longer than foretold a run may take: chosen wide, since other work shares the machine. */
export const timeMargin = 1.5;
