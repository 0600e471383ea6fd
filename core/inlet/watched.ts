/** A file as a look at an inlet's folder found it. */
export interface Sighting {
  /** Below the inlet's folder, `/` between names. */
  path: string;
  sizeBytes: number;
  /** Everything else that changes when a file is written to or exchanged: its times, its number on the disk. */
  mark: string;
}

/** A file that waits to be taken up, as it stands since it last changed. */
export interface Watched extends Sighting {
  /** When it was first seen as it is now: milliseconds of a clock that only goes forward. */
  sameSinceMs: number;
}

/**
 * What is known of waiting files after another look at all of them. Only what was seen unchanged counts as quiet: the
 * times that a disk or another machine states may be wrong, kept from elsewhere, or set back. What is gone is forgotten.
 */
export function watched(
  before: ReadonlyMap<string, Watched>,
  seen: readonly Sighting[],
  nowMs: number,
): Map<string, Watched> {
  return new Map(
    seen.map((sighting) => {
      const known = before.get(sighting.path);
      const same = known?.sizeBytes === sighting.sizeBytes && known.mark === sighting.mark;
      return [sighting.path, { ...sighting, sameSinceMs: same ? known.sameSinceMs : nowMs }];
    }),
  );
}
