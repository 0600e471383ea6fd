import type { ClipDescription } from '../clip/description.ts';

/** What people say about a clip, or a sidecar does. Null where nobody said anything. */
export interface Identity {
  reel: string | null;
  scene: string | null;
  take: string | null;
  camera: string | null;
  circled: boolean | null;
  note: string | null;
}

export const identityFields = ['reel', 'scene', 'take', 'camera', 'note'] as const;
export type IdentityField = (typeof identityFields)[number];

export const nobody: Identity = { reel: null, scene: null, take: null, camera: null, circled: null, note: null };

/** Longest that each may be, in characters. A reel is kept in 32 by MXF and edit lists; a note may be a sentence. */
export const identityLimits: Readonly<Record<IdentityField, number>> = {
  reel: 32,
  scene: 32,
  take: 16,
  camera: 16,
  note: 400,
};

/** Identity as it counts: what a person said, else a sidecar, else the file itself. */
export function identityOf(
  said: Partial<Identity>,
  sidecar: Partial<Identity>,
  clip: Pick<ClipDescription, 'reel'>,
): Identity {
  const pick = <K extends keyof Identity>(field: K, own: Identity[K]): Identity[K] =>
    said[field] ?? sidecar[field] ?? own;
  return {
    reel: pick('reel', clip.reel),
    scene: pick('scene', null),
    take: pick('take', null),
    camera: pick('camera', null),
    circled: pick('circled', null),
    note: pick('note', null),
  };
}

/** Why a value cannot be set; null when it can. */
export function identityProblem(field: IdentityField, value: string): string | null {
  if ([...value].length > identityLimits[field]) return `at most ${identityLimits[field]} characters`;
  if (/[\u0000-\u001f\u007f]/.test(value)) return 'no line breaks or control characters';
  return null;
}

/** An empty field takes away what was said: the sidecar's or the file's word counts again. */
export function cleaned(value: string): string | null {
  const text = value.trim();
  return text === '' ? null : text;
}
