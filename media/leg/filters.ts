import type { ClipDescription } from '@relay/core/clip/description';
import type { OutputPlan, PictureStep, SoundPlan, VideoPlan } from '@relay/core/recipe/plan';
import { codecRow } from '@relay/core/recipe/codecs';
import { formatFraction, invert, toNumber, type Rational } from '@relay/core/time/rational';

/** H.273 matrix names as ffprobe prints them → the scaler's own words for them. */
const scalerMatrix: Readonly<Record<string, string>> = {
  bt709: 'bt709', smpte170m: 'smpte170m', bt470bg: 'bt470', smpte240m: 'smpte240m', fcc: 'fcc', bt2020nc: 'bt2020', bt2020c: 'bt2020',
};

/** The pixel format that an output's codec is given. */
export function pixelFormat(output: OutputPlan): string {
  const row = codecRow(output.codec);
  const planes = row.chroma.replaceAll(':', '');
  return `yuv${planes}p${row.bitDepth > 8 ? `${row.bitDepth}le` : ''}`;
}

function stepFilters(step: PictureStep): string[] {
  switch (step.kind) {
    case 'deinterlace': return [`bwdif=mode=send_frame:parity=${step.topFieldFirst ? 'tff' : 'bff'}:deint=all`];
    case 'steady': return ['setpts=PTS-STARTPTS', `fps=${formatFraction(step.rate)}:round=near`];
    // Both are done by the one scaler that ends the chain.
    case 'scale': case 'to-legal-range': return [];
  }
}

function scaler(video: VideoPlan): string {
  const fieldwise = video.steps.some((step) => step.kind === 'scale' && step.fieldwise) || video.scan !== 'progressive';
  const matrix = scalerMatrix[video.samplesIn.matrix] ?? 'bt709';
  return [
    `scale=${video.raster.width}:${video.raster.height}`, 'flags=bicubic+accurate_rnd', `in_color_matrix=${matrix}`, `out_color_matrix=${matrix}`,
    `in_range=${video.samplesIn.range === 'full' ? 'pc' : 'tv'}`, 'out_range=tv', `interl=${fieldwise ? 1 : 0}`,
  ].join(':');
}

/** H.273 matrix names → zscale's words for them. */
const zscaleMatrix: Readonly<Record<string, string>> = {
  bt709: '709', smpte170m: '170m', bt470bg: '470bg', smpte240m: '240m', fcc: 'fcc', bt2020nc: '2020_ncl', bt2020c: '2020_ncl',
};

/** Samples as they come to a LUT: the output's raster, Y'CbCr of 16 bits in legal range, chroma as dense as luma, whatever was decoded. */
export function toLutFilters(video: VideoPlan): string[] {
  // Small outputs are scaled first: a LUT costs by the sample.
  return [scaler(video), 'format=yuv444p16le'];
}

/** Through a baked LUT, and back to luma and chroma by the matrix that the output's tags will name. Ranges: core's `forLutFilter`. */
function lutFilters(video: VideoPlan, lut: string): string[] {
  const [before, after] = [video.samplesIn.matrix, video.colour.matrix ?? 'bt709'].map((name) => zscaleMatrix[name] ?? '709');
  return [
    ...toLutFilters(video), `zscale=min=${before}:rin=full:m=gbr:r=full`, 'format=gbrp16le', `lut3d=file=${lut}:interp=tetrahedral`,
    `zscale=min=gbr:rin=full:m=${after}:r=full`, 'format=yuv444p16le', 'setparams=range=tv', 'scale=flags=bicubic+accurate_rnd:in_range=tv:out_range=tv',
  ];
}

const fieldOf = { 'top-field-first': 'tff', 'bottom-field-first': 'bff', progressive: 'prog', unknown: 'auto' } as const;

/** Whether an output's picture goes through its chain, and so needs the chain baked to a file. */
export function needsLut({ colour }: OutputPlan): boolean {
  return colour?.kind === 'baked' || colour?.kind === 'brought';
}

/** The steps before scaling, as filters. */
export function stepsBefore(video: VideoPlan): string[] {
  return video.steps.flatMap(stepFilters);
}

/**
 * The filters of one output's picture, from decoded frame to encoder. Tags are set last, so that frame, header and box
 * agree. `lut` is the path of its baked chain, of letters that filters need no quotes for.
 * @throws RangeError when the chain is to be baked in and `lut` is missing
 */
export function pictureFilters(output: OutputPlan, lut?: string): string {
  const { video } = output;
  const { colour } = video;
  if (needsLut(output) && (!lut || !/^[\w/.-]+$/.test(lut))) throw new RangeError(`${output.path} needs its chain baked to a plainly named file`);
  return [
    ...stepsBefore(video),
    ...(needsLut(output) && lut ? lutFilters(video, lut) : [scaler(video)]),
    `format=${pixelFormat(output)}`,
    'setsar=1',
    // Every frame once, at the exact rate, whatever the wrapper's clock said.
    `settb=${formatFraction(invert(video.rate))}`,
    'setpts=N',
    `setparams=field_mode=${fieldOf[video.scan]}:range=tv:color_primaries=${colour.primaries ?? 'unknown'}:color_trc=${colour.transfer ?? 'unknown'}:colorspace=${colour.matrix ?? 'unknown'}`,
  ].join(',');
}

/**
 * The filters of one sound track: moved to begin with the first picture, brought to the rate, and as long as the
 * picture to the sample. Sound of an original that is cut short is not drawn out over pictures that do not exist.
 */
export function soundFilters(sound: SoundPlan, pictureStart: Rational, original: ClipDescription): string {
  const start = toNumber(pictureStart);
  return [
    start > 0 ? `asetpts=PTS-${start.toFixed(9)}/TB` : null,
    `aresample=${sound.sampleRate}:async=1:first_pts=0`,
    original.cutShort ? null : `apad=whole_len=${sound.samples}`,
    `atrim=end_sample=${sound.samples}`,
  ].filter((part) => part !== null).join(',');
}
