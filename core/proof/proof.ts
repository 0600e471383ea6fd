import type { ClipDescription } from '../clip/description.ts';
import { codecRow, hasPicture } from '../recipe/codecs.ts';
import { unnamedLayouts } from '../recipe/sound.ts';
import { timeReference } from '../recipe/timeReference.ts';
import { wrappers } from '../recipe/wrappers.ts';
import type { OutputPlan } from '../recipe/plan.ts';
import { formatRaster } from '../shape/raster.ts';
import { formatRate } from '../time/rate.ts';
import { equal, formatFraction, toNumber } from '../time/rational.ts';

/** One measured comparison of an output with what was planned for it. */
export interface Comparison {
  name: string;
  planned: string;
  found: string;
  holds: boolean;
}

/** What decoding the whole output showed. */
export interface DecodedFacts {
  frames: number;
  /** Samples decoded per sound track, in the file's order. */
  samples: number[];
  /** First lines of what the decoder complained of; empty when it was content. */
  errors: string[];
}

export type Verdict = 'proved' | 'needs eyes' | 'failed';

/** An output held against its plan. */
export interface Proof {
  verdict: Verdict;
  comparisons: Comparison[];
  /** Why it is not proved, in plain words; empty when it is. */
  reasons: string[];
}

/** How decoding the original went, where that excuses an output. */
export interface SourceFacts {
  /** Errors that the decoder reported while the leg ran. */
  errors: string[];
  /** The description's own suspicion that the file is cut short. */
  cutShort: string | null;
}

function compareText(name: string, planned: string | null, found: string | null): Comparison {
  return { name, planned: planned ?? 'none', found: found ?? 'none', holds: (planned ?? 'none') === (found ?? 'none') };
}

/** Sound may differ from the picture's end by this many samples: one sample each for rounding at both ends. */
const sampleTolerance = 2;
/** AAC comes in packets of 1024 samples: the last is filled up. */
const aacTolerance = 1024 + sampleTolerance;

/**
 * Holds what came out against the plan. Too few frames from an original that is itself cut short or damaged need a
 * person's eyes; any other difference is a failure. `compared` are comparisons of decoded pictures and sound with the
 * original's.
 */
export function prove(
  plan: OutputPlan,
  found: ClipDescription,
  decoded: DecodedFacts,
  source: SourceFacts,
  compared: readonly Comparison[] = [],
): Proof {
  const { video } = found;
  const row = codecRow(plan.codec);
  const planned = plan.video;
  const pictured = hasPicture(plan);
  const missing = pictured ? planned.frames - decoded.frames : 0;
  const sourceSuspect = source.errors.length > 0 || source.cutShort !== null;
  const frames: Comparison[] = !pictured
    ? []
    : [
        { name: 'frames', planned: String(planned.frames), found: String(decoded.frames), holds: missing === 0 },
        {
          name: 'frames in the index',
          planned: String(decoded.frames),
          found: String(video?.frames ?? 0),
          holds: video?.frames === decoded.frames,
        },
      ];
  const durationFound = video ? toNumber(video.duration) : 0;
  const durationOf = (count: number): number => count / toNumber(planned.rate);
  const lengths: Comparison[] = [
    ...(!pictured
      ? []
      : [
          {
            name: 'duration',
            planned: `${durationOf(planned.frames).toFixed(4)} s`,
            found: `${durationFound.toFixed(4)} s`,
            holds: Math.abs(durationFound - durationOf(planned.frames)) < 0.5 / toNumber(planned.rate),
          },
        ]),
    ...plan.sound.tracks.map((track, index) => {
      const samples = decoded.samples[index] ?? 0;
      return {
        name: `samples, track ${(track.mix ? index : track.from) + 1}`,
        planned: String(plan.sound.samples),
        found: String(samples),
        holds:
          samples - plan.sound.samples >= -sampleTolerance &&
          samples - plan.sound.samples <= (plan.sound.coding ? aacTolerance : sampleTolerance),
      };
    }),
  ];
  const shape: Comparison[] = !pictured
    ? []
    : [
        compareText(
          'codec',
          row.name,
          video?.codecId === row.codecId && (row.profiles.length === 0 || row.profiles.includes(video.profile ?? ''))
            ? row.name
            : `${video?.codec ?? 'none'} ${video?.profile ?? ''}`.trim(),
        ),
        compareText(
          'chroma and depth',
          `${row.chroma} ${row.bitDepth}`,
          video ? `${video.chroma} ${video.bitDepth}` : null,
        ),
        compareText('rate', formatRate(planned.rate), video ? formatRate(video.rate) : null),
        {
          name: 'constant rate',
          planned: 'yes',
          found: video?.rateConstant ? 'yes' : 'no',
          holds: video?.rateConstant === true,
        },
        compareText('raster', formatRaster(planned.raster), video ? formatRaster(video.raster) : null),
        {
          name: 'pixel aspect',
          planned: formatFraction(planned.pixelAspect, ':'),
          found: video ? formatFraction(video.pixelAspect, ':') : 'none',
          holds: video !== null && equal(video.pixelAspect, planned.pixelAspect),
        },
        compareText('scan', planned.scan, video?.scan ?? null),
        compareText('start timecode', plan.timecode?.start ?? null, found.timecode?.start ?? null),
        compareText('reel', plan.reel, found.reel),
        compareText('primaries', planned.colour.primaries, video?.colour.primaries ?? null),
        compareText('transfer', planned.colour.transfer, video?.colour.transfer ?? null),
        compareText('matrix', planned.colour.matrix, video?.colour.matrix ?? null),
        // A wrapper without a range tag means legal range, so only a claim of full range is wrong.
        {
          name: 'range',
          planned: planned.colour.range ?? 'legal',
          found: video?.colour.range ?? 'legal',
          holds: (video?.colour.range ?? 'legal') === (planned.colour.range ?? 'legal'),
        },
        ...(planned.alpha ? [compareText('alpha', 'kept', video?.alpha ? 'kept' : 'left out')] : []),
        ...(plan.rate?.wholeBytes
          ? [
              {
                name: 'size',
                planned: `${plan.rate.wholeBytes} bytes at most`,
                found: `${found.sizeBytes} bytes`,
                holds: found.sizeBytes <= plan.rate.wholeBytes,
              },
            ]
          : []),
      ];
  const reference = timeReference(plan);
  const held: Comparison[] = [
    compareText(
      'wrapper',
      wrappers[plan.wrapper].name,
      found.wrapperId === wrappers[plan.wrapper].wrapperId ? wrappers[plan.wrapper].name : found.wrapper,
    ),
    // Where sound lies in a Broadcast Wave file, that says when it begins.
    ...(reference !== null && plan.sound.tracks.length > 0 && (plan.wrapper === 'wav' || plan.wrapper === 'pictures')
      ? [
          compareText(
            'first sample since midnight',
            String(reference),
            found.timeReference === undefined ? null : String(found.timeReference),
          ),
        ]
      : []),
  ];
  const sound: Comparison[] = [
    compareText(
      'channels by track',
      plan.sound.tracks.map((t) => t.channels).join(' ') || 'none',
      found.audio.map((t) => t.channels).join(' ') || 'none',
    ),
    compareText(
      'sample rate',
      plan.sound.tracks.length > 0 ? '48000' : 'none',
      [...new Set(found.audio.map((t) => t.sampleRate))].join(' ') || 'none',
    ),
    ...plan.sound.tracks.flatMap((track, index) =>
      track.layout && !(plan.sound.coding && unnamedLayouts.has(track.layout))
        ? [
            compareText(
              `layout, track ${(track.mix ? index : track.from) + 1}`,
              track.layout,
              found.audio[index]?.layout ?? null,
            ),
          ]
        : [],
    ),
  ];
  const clean: Comparison = {
    name: 'decodes to the last frame',
    planned: 'no errors',
    found: decoded.errors[0] ?? 'no errors',
    holds: decoded.errors.length === 0,
  };

  const comparisons = [...frames, ...lengths, ...shape, ...held, ...compared, ...sound, clean];
  const wrong = comparisons.filter((c) => !c.holds);
  const excusable = (c: Comparison): boolean =>
    c.name === 'frames' || c.name === 'duration' || c.name.startsWith('samples');
  const said = wrong.map((c) => `${c.name}: ${c.found}, planned ${c.planned}`);
  const damage = [
    source.cutShort,
    missing > 0 ? `${missing} of ${planned.frames} frames are missing at the end` : null,
    source.errors.length > 0 ? `the original does not decode cleanly: ${source.errors[0]}` : null,
  ].filter((line): line is string => line !== null);
  if (wrong.some((c) => !excusable(c)) || (wrong.length > 0 && !sourceSuspect) || (pictured && decoded.frames === 0)) {
    return { verdict: 'failed', comparisons, reasons: said };
  }
  return sourceSuspect
    ? { verdict: 'needs eyes', comparisons, reasons: damage }
    : { verdict: 'proved', comparisons, reasons: [] };
}
