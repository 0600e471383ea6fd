import type { Finding } from '../findings/finding.ts';
import type { Identity } from '../identity/identity.ts';
import { formatRate } from '../time/rate.ts';
import { isInterlaced, type ClipDescription } from './description.ts';

/**
 * Every word that a clip can be found by, in lower case: names, facts as they are said, identity, findings and their
 * levels.
 */
export function searchText(
  clip: ClipDescription,
  roll: string,
  identity: Identity,
  findings: readonly Finding[],
): string {
  const { video } = clip;
  const picture = video
    ? [
        video.codec,
        video.profile,
        video.chroma,
        `${video.bitDepth} bit`,
        `${video.raster.width}×${video.raster.height}`,
        `${video.raster.width}x${video.raster.height}`,
        isInterlaced(video.scan) ? 'interlaced' : video.scan,
        video.rateConstant ? formatRate(video.rate) : 'varying rate',
        video.colour.transfer,
        video.colour.range ? `${video.colour.range} range` : null,
      ]
    : ['sound only'];
  const said = [
    identity.reel,
    identity.camera,
    identity.note,
    identity.scene && `scene ${identity.scene}`,
    identity.take && `take ${identity.take}`,
    identity.circled ? 'circled' : null,
  ];
  const found = findings.flatMap((finding) => [finding.level, finding.text]);
  return [clip.path, roll, clip.wrapper, clip.timecode?.start, ...picture, ...said, ...found]
    .filter((word) => word !== null && word !== undefined)
    .join(' ')
    .toLowerCase();
}

/** What a filter asks of a clip's runs: `[not run]`, `[changed since]`, `[run with Finish and cut]`; a minus before it denies it. */
export type RunCondition = ({ kind: 'not run' | 'changed since' } | { kind: 'run with'; recipe: string }) & {
  denied: boolean;
};

export interface FilterWords {
  wanted: string[];
  unwanted: string[];
  runs: RunCondition[];
}

function runCondition(text: string, denied: boolean): RunCondition | null {
  const words = text.trim();
  if (/^not run$/i.test(words)) return { kind: 'not run', denied };
  if (/^changed since$/i.test(words)) return { kind: 'changed since', denied };
  const recipe = /^run with (?<name>\S.*)$/i.exec(words)?.groups?.name;
  return recipe === undefined ? null : { kind: 'run with', recipe, denied };
}

/**
 * A filter as typed: words that must be found, words behind a minus that must not, and in brackets what is asked of a
 * clip's runs. Brackets that hold nothing of the kind are words.
 */
export function filterWords(filter: string): FilterWords {
  const runs: RunCondition[] = [];
  const rest = filter.replace(/(-?)\[([^[\]]*)\]/g, (whole, minus: string, text: string) => {
    const condition = runCondition(text, minus === '-');
    if (condition === null) return whole;
    runs.push(condition);
    return ' ';
  });
  const words = rest
    .toLowerCase()
    .split(/\s+/)
    .filter((word) => word !== '' && word !== '-');
  return {
    wanted: words.filter((word) => !word.startsWith('-')),
    unwanted: words.filter((word) => word.startsWith('-')).map((word) => word.slice(1)),
    runs,
  };
}
