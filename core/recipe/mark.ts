import type { LegPlan, OutputPlan } from './legPlan.ts';

/** FNV-1a with 64 bits (the published constants), as sixteen hexadecimal digits. */
function fnv64(text: string): string {
  let mark = 0xcbf29ce484222325n;
  for (const byte of new TextEncoder().encode(text))
    mark = ((mark ^ BigInt(byte)) * 0x100000001b3n) & 0xffffffffffffffffn;
  return mark.toString(16).padStart(16, '0');
}

/** JSON whose fields stand in the order of their names, so that two plans that say the same are the same text. */
function steadyJson(value: unknown): string {
  if (Array.isArray(value)) return `[${value.map(steadyJson).join(',')}]`;
  if (value === null || typeof value !== 'object') return JSON.stringify(value) ?? 'null';
  const entries = Object.entries(value)
    .filter(([, one]) => one !== undefined)
    .sort(([a], [b]) => (a < b ? -1 : 1));
  return `{${entries.map(([name, one]) => `${JSON.stringify(name)}:${steadyJson(one)}`).join(',')}}`;
}

/**
 * A mark of everything that an output is made from and how: two outputs of one path with one mark are the same, and a
 * run made again after a change remakes only those whose mark is another. What an output is called, and for which
 * deliverable, is not in it.
 */
export function planMark(plan: LegPlan, output: OutputPlan): string {
  const { video, sound, codec, wrapper, colour, burn, timecode, reel, rate } = output;
  const { sizeBytes, modifiedAt, chapters, part } = plan.original;
  // The times of frames are the original's, read when it is run: a plan from before and one from after are the same
  // plan.
  const planned = video.map?.kind === 'times' ? { ...video, map: { kind: 'times' } } : video;
  return fnv64(
    steadyJson({
      video: planned,
      sound,
      codec,
      wrapper,
      colour: colour ?? { kind: 'as-shot' },
      burn,
      timecode,
      reel,
      rate,
      pictureStart: plan.pictureStart,
      original: { sizeBytes, modifiedAt, chapters: chapters.map((one) => one.path), part },
    }),
  );
}

/** The legs' plans of two waves: what is cut with first, then what is finished from, each from a decode of its own. */
export function inWaves(plan: LegPlan): { wave: number; plan: LegPlan }[] {
  const waves = [
    plan.outputs.filter(({ role }) => role !== 'intermediate'),
    plan.outputs.filter(({ role }) => role === 'intermediate'),
  ].filter((outputs) => outputs.length > 0);
  return waves.map((outputs, index) => ({ wave: index + 1, plan: { ...plan, outputs } }));
}
