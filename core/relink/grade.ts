import type { Fit } from './fit.ts';
import type { Target } from './target.ts';

/**
 * How surely an event was found. *exact*: reel and timecode. *name*: name and timecode. *path*: the path, with timecode
 * where there is one. *timecode*: by that alone, as nothing else is said and only one has it. *nearly*: all but
 * something. *several*: more than one answers. *none*. *said*: a person answered.
 */
export const grades = ['said', 'exact', 'name', 'path', 'timecode', 'nearly', 'several', 'none'] as const;
export type Grade = (typeof grades)[number];

/** Grades that need nobody's answer. */
export function isFound(grade: Grade): boolean {
  return grade === 'said' || grade === 'exact' || grade === 'name' || grade === 'path' || grade === 'timecode';
}

/** A target with how an event fits in it. */
export interface Candidate {
  target: Target;
  fit: Fit;
}
