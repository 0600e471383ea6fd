import { isInterlaced } from '@relay/core/clip/description';
import type { OutputPlan } from '@relay/core/recipe/legPlan';
import type { LongCodec, PictureFormat, CodecOf, VideoCodec } from '@relay/core/recipe/recipe';
import { unwrap } from '@relay/core/result';
import type { ProResProfile } from '@relay/core/size/prores';
import type { QuantiserSample } from '@relay/core/size/quantiser';
import { vc3Hd } from '@relay/core/size/vc3';
import { toNumber } from '@relay/core/time/rational';
import type { LaidBurn } from '../burn/lay.ts';

/** Sizes of frames by which a quantiser was chosen: this clip's, or those of like clips that went before. */
export interface ChosenBy {
  samples: readonly QuantiserSample[];
  /** The kind of clip that it is; null where that cannot be told. */
  kind: string | null;
  likeOnes: boolean;
}

/** What was found out about the material before encoding; apart from the plan, which says only what must come out. */
export interface Tuning {
  /** ProRes: the constant quantiser, 1 to 64. */
  quantiser?: number;
  /** What that was chosen by. */
  chosenBy?: ChosenBy;
  /** The chain of this output, baked to a .cube file: 16-bit legal codes in and out. */
  lut?: string;
  /** What is laid over this output's pictures, drawn and ready. */
  burn?: LaidBurn;
  /** How the camera shook, found in a first pass: a file for the stabilising filter. */
  shake?: string;
  /** Where the encoder's first pass wrote down what it found, for its second. */
  firstPass?: string;
}

const proResProfileNumber: Readonly<Record<ProResProfile, number>> = {
  proxy: 0,
  lt: 1,
  '422': 2,
  hq: 3,
  '4444': 4,
  '4444xq': 5,
};
const vc5Quality = { low: 'low', medium: 'medium', high: 'high', film: 'film1' } as const;
/** x264's and x265's presets; of x265 each one quicker, or nothing would be ready by morning. */
const presets = {
  h264: { quick: 'veryfast', balanced: 'medium', thorough: 'slow' },
  hevc: { quick: 'superfast', balanced: 'fast', thorough: 'medium' },
} as const;

/** H.264 and HEVC. `pass` is that of two. */
function longArguments(
  codec: LongCodec,
  output: OutputPlan,
  pass: 1 | 2 | null,
  passFile: string | undefined,
): string[] {
  const { video, rate } = output;
  // Half a second between whole pictures, so that a cutting program finds any frame quickly.
  const group = codec.intra ? 1 : Math.max(1, Math.round(toNumber(video.rate) / 2));
  const preset = ['-preset', presets[codec.id][codec.effort ?? 'quick'], ...(codec.grain ? ['-tune', 'grain'] : [])];
  const bits = rate
    ? [
        '-b:v',
        String(rate.bitsPerSecond),
        '-maxrate',
        String(Math.round(rate.bitsPerSecond * 1.5)),
        '-bufsize',
        String(rate.bitsPerSecond * 2),
      ]
    : [];
  const passes = pass && passFile ? [`pass=${pass}`, `stats=${passFile}`] : [];
  if (codec.id === 'h264') {
    const profile = codec.chroma === '4:2:2' ? 'high422' : codec.bitDepth === 10 ? 'high10' : 'high';
    return [
      '-c:v',
      'libx264',
      ...preset,
      '-profile:v',
      profile,
      ...(rate ? bits : ['-crf', String(codec.quality)]),
      '-g',
      String(group),
      ...(codec.intra ? [] : ['-bf', '2']),
      // Not `-passlogfile`, whose name grows the number of the stream in its command, which is another in the second
      // pass.
      '-x264-params',
      ['open-gop=0', 'log-level=error', ...passes].join(':'),
    ];
  }
  return [
    '-c:v',
    'libx265',
    ...preset,
    ...(rate ? bits : ['-crf', String(codec.quality)]),
    '-g',
    String(group),
    ...(output.wrapper === 'mkv' ? [] : ['-tag:v', 'hvc1']),
    '-x265-params',
    ['log-level=error', 'open-gop=0', codec.intra ? 'keyint=1' : 'bframes=2', ...passes].join(':'),
  ];
}

const pictureArguments: Readonly<Record<PictureFormat, string[]>> = {
  dpx: ['-c:v', 'dpx'],
  tiff: ['-c:v', 'tiff', '-compression_algo', 'raw'],
  png: ['-c:v', 'png', '-pred', 'mixed'],
  exr: ['-c:v', 'exr', '-format', 'half', '-compression', 'zip16'],
};

/** What an encoder is told beside its codec. */
interface Encoding {
  output: OutputPlan;
  tuning: Tuning;
  pass: 1 | 2 | null;
}

/** Fields, where they are kept: coded as fields, and which of them is first. */
function fieldArguments({ video: { scan } }: OutputPlan): string[] {
  return isInterlaced(scan) ? ['-flags', '+ildct', '-top', scan === 'top-field-first' ? '1' : '0'] : [];
}

/** One encoder for each codec of core/recipe/codecs.ts. */
const encoders: { readonly [Id in VideoCodec['id']]: (codec: CodecOf<Id>, encoding: Encoding) => string[] } = {
  prores: ({ profile }, { output, tuning }) => [
    '-c:v',
    'prores_ks',
    '-profile:v',
    String(proResProfileNumber[profile]),
    ...(tuning.quantiser ? ['-q:v', String(tuning.quantiser)] : []),
    ...(output.video.alpha ? ['-alpha_bits', '16'] : []),
    ...fieldArguments(output),
  ],
  vc3: ({ profile }) => ['-c:v', 'dnxhd', '-profile:v', `dnxhr_${profile}`],
  vc3hd: ({ grade }, { output }) => {
    const { raster, rate, scan } = output.video;
    const { megabits } = unwrap(vc3Hd(grade, raster, rate, isInterlaced(scan)));
    return ['-c:v', 'dnxhd', '-profile:v', 'dnxhd', '-b:v', `${megabits}M`, ...fieldArguments(output)];
  },
  vc5: ({ quality }) => ['-c:v', 'cfhd', '-quality', vc5Quality[quality]],
  h264: (codec, { output, pass, tuning }) => longArguments(codec, output, pass, tuning.firstPass),
  hevc: (codec, { output, pass, tuning }) => longArguments(codec, output, pass, tuning.firstPass),
  av1: ({ quality }, { output }) => {
    const group = Math.max(1, Math.round(toNumber(output.video.rate) * 2));
    return ['-c:v', 'libsvtav1', '-preset', '8', '-crf', String(quality), '-g', String(group)];
  },
  mjpeg: ({ quality }) => ['-c:v', 'mjpeg', '-q:v', String(quality), '-huffman', 'optimal'],
  ffv1: () => [
    ...['-c:v', 'ffv1', '-level', '3', '-g', '1'],
    ...['-coder', '1', '-context', '0', '-slices', '4', '-slicecrc', '1'],
  ],
  v210: () => ['-c:v', 'v210'],
  pictures: ({ format }) => pictureArguments[format],
  none: () => ['-vn'],
};

/** The encoder's arguments for one output's picture; `pass` is which of two, or null for one that is the only one. */
export function encoderArguments(
  output: OutputPlan,
  tuning: Tuning,
  pass: 1 | 2 | null = output.rate?.passes === 2 ? 2 : null,
): string[] {
  const { codec } = output;
  // Which of them it is goes with its id, which the compiler does not follow through the table.
  const encoder = encoders[codec.id] as (one: VideoCodec, encoding: Encoding) => string[];
  return encoder(codec, { output, tuning, pass });
}
