import { isInterlaced } from '@relay/core/clip/description';
import type { OutputPlan, PictureStep, VideoPlan } from '@relay/core/recipe/legPlan';
import { codecRow } from '@relay/core/recipe/codecs';
import { isLight, keepsLight, matrixMade } from '@relay/core/recipe/video';
import type { Raster } from '@relay/core/shape/raster';
import { formatFraction, invert } from '@relay/core/time/rational';
import { burnFilters, layingFormat } from '../burn/lay.ts';
import type { Tuning } from './encoders.ts';

/** H.273 matrix names as ffprobe prints them → the scaler's own words for them. */
export const scalerMatrix: Readonly<Record<string, string>> = {
  bt709: 'bt709',
  smpte170m: 'smpte170m',
  bt470bg: 'bt470',
  smpte240m: 'smpte240m',
  fcc: 'fcc',
  bt2020nc: 'bt2020',
  bt2020c: 'bt2020',
};

/** H.273 matrix names → zscale's words for them. */
const zscaleMatrix: Readonly<Record<string, string>> = {
  bt709: '709',
  smpte170m: '170m',
  bt470bg: '470bg',
  smpte240m: '240m',
  fcc: 'fcc',
  bt2020nc: '2020_ncl',
  bt2020c: '2020_ncl',
};

/** The pixel format that an output's codec is given. */
export function pixelFormat(output: OutputPlan): string {
  const row = codecRow(output.codec);
  if (row.pixelFormat) return row.pixelFormat;
  const planes = row.chroma.replaceAll(':', '');
  if (row.jpegSamples) return `yuvj${planes}p`;
  const depth = row.encodedDepth ?? row.bitDepth;
  return `yuv${output.video.alpha ? 'a' : ''}${planes}p${depth > 8 ? `${depth}le` : ''}`;
}

/** Frames at an even clock of their rate, so that what follows counts and does not measure. */
export function counted(rate: PictureStepRate): string[] {
  return [`settb=${formatFraction(invert(rate))}`, 'setpts=N'];
}
type PictureStepRate = Extract<PictureStep, { kind: 'resample' }>['from'];

type PulldownOut = Pick<Extract<PictureStep, { kind: 'pulldown-out' }>, 'phase' | 'topFieldFirst' | 'from'>;

/** A whole picture of both fields, or of each. */
export function wholePictures({ double, topFieldFirst }: Extract<PictureStep, { kind: 'deinterlace' }>): string {
  return `bwdif=mode=${double ? 'send_field' : 'send_frame'}:parity=${topFieldFirst ? 'tff' : 'bff'}:deint=all`;
}

/** The first whole film frame of those that {@link wholeAgain} gives. */
export function filmBegins({ phase }: Pick<PulldownOut, 'phase'>): number {
  return [0, 1, 2, 3, 3][phase] as number;
}

/**
 * Film frames out of the fields of a 2:3 pattern. Fields are put before the first so that the pattern begins whole, and
 * after the last so that it ends whole.
 */
export function wholeAgain({ phase, topFieldFirst, from }: PulldownOut): string[] {
  return [
    ...counted(from),
    `setfield=${topFieldFirst ? 'tff' : 'bff'}`,
    'separatefields',
    `tpad=start=${phase * 2}:start_mode=clone:stop=10:stop_mode=clone`,
    'shuffleframes=0 1 2 3 6 5 8 9 -1 -1',
    `weave=first_field=${topFieldFirst ? 'top' : 'bottom'}`,
  ];
}

/** Film frames into fields of the 2:3 pattern. */
export const intoFields = 'telecine=pattern=23:first_field=top';

/**
 * Temporal averaging: how far samples of neighbouring pictures may lie apart to be averaged, and over how many
 * pictures.
 */
const denoising = {
  1: { near: 0.01, sum: 0.02, pictures: 5 },
  2: { near: 0.02, sum: 0.04, pictures: 9 },
  3: { near: 0.04, sum: 0.08, pictures: 13 },
} as const;

// eslint-disable-next-line complexity -- one branch for each kind of step
function stepFilters(step: PictureStep, video: VideoPlan, tuning: Tuning): string[] {
  switch (step.kind) {
    case 'deinterlace':
      return [wholePictures(step)];
    case 'steady':
      return ['setpts=PTS-STARTPTS', `fps=${formatFraction(step.rate)}:round=near`];
    case 'resample':
      return step.how === 'hold'
        ? [
            ...counted(step.from), // Rounded up, a frame is shown from the first output frame on that is not before it.
            `fps=${formatFraction(step.rate)}:round=up`,
            `trim=end_frame=${step.frames}`,
          ]
        : [
            ...counted(step.from),
            `framerate=fps=${formatFraction(step.rate)}:interp_start=0:interp_end=255:scene=100`,
            `trim=end_frame=${step.frames}`,
          ];
    case 'pulldown-out':
      return [...wholeAgain(step), `trim=start_frame=${filmBegins(step)}:end_frame=${filmBegins(step) + step.frames}`];
    case 'pulldown-in':
      return [...counted(step.from), intoFields, `trim=end_frame=${step.frames}`];
    case 'denoise': {
      const { near, sum, pictures } = denoising[step.strength];
      return [`atadenoise=0a=${near}:0b=${sum}:1a=${near}:1b=${sum}:2a=${near}:2b=${sum}:s=${pictures}`];
    }
    case 'stabilise': {
      if (!tuning.shake) throw new RangeError('What is stabilised needs a first pass');
      // Its format for planes as dense as ours, dithered where there were more bits.
      return [
        evenly(video, 'yuv444p', ':sws_dither=ed'),
        `vidstabtransform=input=${tuning.shake}:smoothing=${step.smoothing}:maxshift=${step.maxShift}:maxangle=${step.maxAngle}:zoom=${step.zoomPercent}:optzoom=0:crop=black:interpol=bicubic`,
      ];
    }
    case 'crop': {
      const { x, y, width, height } = step.window;
      const fields = isInterlaced(video.scan);
      // Chroma lies on every second or fourth sample: other places need it as dense as luma first.
      const odd = x % 4 !== 0 || width % 4 !== 0 || y % (fields ? 4 : 2) !== 0 || height % (fields ? 4 : 2) !== 0;
      return [...(odd ? dense(video) : []), `crop=${width}:${height}:${x}:${y}`];
    }
    case 'turn':
      return [
        ...([[], ['transpose=clock'], ['hflip', 'vflip'], ['transpose=cclock']][step.quarters] as string[]),
        ...(step.across ? ['hflip'] : []),
        ...(step.down ? ['vflip'] : []),
      ];
    // Done by the one scaler, and around the LUT.
    case 'scale':
    case 'to-legal-range':
    case 'view':
    case 'pad':
      return [];
  }
}

/**
 * Where chroma lies that is thinned out across: with the left one of its luma samples, as BT.601, BT.709 and MPEG-2
 * have it and outputs state. By itself the scaler takes it to lie between them, as only JPEG has it.
 */
const chromaLeft = ':in_h_chr_pos=0:out_h_chr_pos=0';

/** What samples are, as far as bringing them to legal luma and chroma goes. */
export type Sampled = Pick<VideoPlan, 'samplesIn' | 'scan' | 'alpha'>;

/** Depths that there are formats of; floats are taken as 16 bits. */
const depths = [8, 10, 12, 16] as const;

/**
 * R'G'B' and full range to luma and chroma of legal range, before anything else is done: by zscale, whose white is
 * white (BT.709-6, item 3.6: 1023 becomes 940), where the scaler's is 943. It takes planes of the original's own depth,
 * since full range does not grow by shifting.
 */
export function toLegalFilters(video: Sampled): string[] {
  const { from, matrix, range } = video.samplesIn;
  if (!from) return [];
  const depth = depths.find((bits) => bits >= from.bitDepth) ?? 16;
  const deep = depth > 8 ? `${depth}le` : '';
  const alpha = video.alpha ? 'a' : '';
  const own = from.rgb || range === 'full' ? 'pc' : 'tv';
  const [scalers, zscales] = [scalerMatrix[matrix] ?? 'bt709', zscaleMatrix[matrix] ?? '709'];
  return [
    `scale=flags=bicubic+accurate_rnd+full_chroma_inp:in_range=${own}:out_range=${own}:in_color_matrix=${scalers}:out_color_matrix=${scalers}:interl=${isInterlaced(video.scan) ? 1 : 0}${from.centred ? '' : ':in_h_chr_pos=0'}`,
    `format=${from.rgb ? `gbr${alpha}p` : `yuv${alpha}444p`}${deep}`,
    `zscale=min=${from.rgb ? 'gbr' : zscales}:rin=full:m=${zscales}:r=limited`,
    `format=yuv${alpha}444p16le`,
  ];
}

/** The range of samples once they are brought to legal range, or of plans that do not say what from. */
function rangeIn({ samplesIn }: Sampled): 'pc' | 'tv' {
  return samplesIn.range === 'full' && !samplesIn.from ? 'pc' : 'tv';
}

/** Another pixel format, matrix and range as they are; `size` where the picture is scaled by the way. */
export function evenly(video: Sampled, format: string, more = '', size = ''): string {
  const matrix = scalerMatrix[video.samplesIn.matrix] ?? 'bt709';
  const range = rangeIn(video);
  return `scale=${size}flags=bicubic+accurate_rnd:in_color_matrix=${matrix}:out_color_matrix=${matrix}:in_range=${range}:out_range=${range}:interl=${isInterlaced(video.scan) ? 1 : 0}${chromaLeft}${more},format=${format}`;
}

/** Chroma as dense as luma. */
function dense(video: VideoPlan): string[] {
  return [evenly(video, 'yuv444p16le')];
}

/** The size that the one scaler brings the picture to. */
function scaledTo(video: VideoPlan): Raster {
  return video.geometry?.scaled ?? video.raster;
}

function scaler(video: VideoPlan): string {
  const fieldwise = video.steps.some((step) => step.kind === 'scale' && step.fieldwise) || isInterlaced(video.scan);
  const matrix = scalerMatrix[video.samplesIn.matrix] ?? 'bt709';
  const { width, height } = scaledTo(video);
  return [
    `scale=${width}:${height}`,
    'flags=bicubic+accurate_rnd',
    `in_color_matrix=${matrix}`,
    `out_color_matrix=${matrix}`,
    `in_range=${rangeIn(video)}`,
    'out_range=tv',
    `interl=${fieldwise ? 1 : 0}${chromaLeft}`,
  ].join(':');
}

/** The part of the scaled picture that is kept, and what is put around it later. */
function viewFilters(video: VideoPlan): string[] {
  const view = video.steps.find((step) => step.kind === 'view');
  return view?.kind === 'view'
    ? ['format=yuv444p16le', `crop=${view.window.width}:${view.window.height}:${view.window.x}:${view.window.y}`]
    : [];
}

const padColour = { black: 'black', grey: '0x7E7E7E', white: 'white' } as const;

function padFilters(video: VideoPlan): string[] {
  const pad = video.steps.find((step) => step.kind === 'pad');
  return pad?.kind === 'pad'
    ? [
        'format=yuv444p16le',
        `pad=${pad.raster.width}:${pad.raster.height}:${pad.at.x}:${pad.at.y}:color=${padColour[pad.colour]}`,
      ]
    : [];
}

/**
 * Samples as they come to a LUT: of the size they will have, Y'CbCr of 16 bits in legal range, chroma as dense as luma,
 * whatever was decoded.
 */
export function toLutFilters(video: VideoPlan): string[] {
  // Small outputs are scaled first: a LUT costs by the sample.
  return [scaler(video), 'format=yuv444p16le', ...viewFilters(video)];
}

/** Where the table lies that brings squeezed light of a baked cube back: beside it. */
export function lightFile(lut: string): string {
  return lut.replace(/\.cube$/, '-light.cube');
}

/**
 * Through a baked LUT, and back to luma and chroma by the matrix that the output's tags will name, or on as floats.
 * Ranges: core's `forLutFilter`.
 */
function lutFilters(output: OutputPlan, lut: string): string[] {
  const { video } = output;
  const [before, after] = [video.samplesIn.matrix, matrixMade(video)].map((name) => zscaleMatrix[name] ?? '709');
  const through = `lut3d=file=${lut}:interp=tetrahedral`;
  const kept = keepsLight(output);
  if (kept || isLight(output)) {
    // Whole numbers end with white; floats do not. Light that a cube has squeezed is brought back by a table that lies
    // beside it.
    const back = isLight(output) ? [`lut1d=file=${lightFile(lut)}:interp=linear`] : [];
    return [
      ...toLutFilters(video),
      `zscale=min=${before}:rin=full:m=gbr:r=full`,
      'format=gbrpf32le',
      through,
      ...back,
      ...(kept ? [] : [`zscale=min=gbr:rin=full:m=${after}:r=limited`, 'format=yuv444p16le']),
    ];
  }
  return [
    ...toLutFilters(video),
    `zscale=min=${before}:rin=full:m=gbr:r=full`,
    'format=gbrp16le',
    through,
    `zscale=min=gbr:rin=full:m=${after}:r=full`,
    'format=yuv444p16le',
    'setparams=range=tv',
  ];
}

/** Whether samples are made of a matrix that they do not have yet: behind a LUT they have it already. */
function changesMatrix(output: OutputPlan): boolean {
  const { video } = output;
  return (
    !needsLut(output) &&
    codecRow(output.codec).chroma !== 'rgb' &&
    scalerMatrix[matrixMade(video)] !== scalerMatrix[video.samplesIn.matrix]
  );
}

/** The matrix of the samples as they come out of scaler or LUT. */
function workingMatrix(output: OutputPlan): string {
  return needsLut(output) ? matrixMade(output.video) : output.video.samplesIn.matrix;
}

/** Planes that an RGB format is packed of. */
const planesOf: Readonly<Record<string, string>> = { rgb48le: 'gbrp16le', rgb48be: 'gbrp16le' };

/**
 * To the samples that the codec is given: as they are, as JPEG's, or as RGB of full range. Ranges and matrices are
 * changed by zscale, whose white is white; the scaler only thins out chroma.
 */
function lastScaler(output: OutputPlan): string[] {
  const { video } = output;
  const [working, made] = [workingMatrix(output), matrixMade(video)].map((name) => zscaleMatrix[name] ?? '709');
  if (codecRow(output.codec).chroma === 'rgb') {
    const format = pixelFormat(output);
    return [
      'format=yuv444p16le',
      `zscale=min=${working}:rin=limited:m=gbr:r=full`,
      `format=${planesOf[format] ?? format}`,
    ];
  }
  const interl = isInterlaced(video.scan) ? 1 : 0;
  if (video.colour.range === 'full')
    return [
      'format=yuv444p16le',
      `zscale=min=${working}:rin=limited:m=${made}:r=full`,
      'format=yuv444p',
      `scale=flags=bicubic+accurate_rnd:in_range=pc:out_range=pc:interl=${interl}`,
    ];
  const matrices = changesMatrix(output)
    ? ['format=yuv444p16le', `zscale=min=${working}:rin=limited:m=${made}:r=limited`, 'format=yuv444p16le']
    : [];
  return [...matrices, `scale=flags=bicubic+accurate_rnd:in_range=tv:out_range=tv:interl=${interl}${chromaLeft}`];
}

const fieldOf = {
  'top-field-first': 'tff',
  'bottom-field-first': 'bff',
  progressive: 'prog',
  unknown: 'auto',
} as const;

/** Whether an output's picture goes through its chain, and so needs the chain baked to a file. */
export function needsLut({ colour }: OutputPlan): boolean {
  return colour?.kind === 'baked' || colour?.kind === 'brought';
}

/** The steps before scaling, as filters. */
export function stepsBefore(video: VideoPlan, tuning: Tuning): string[] {
  return [...toLegalFilters(video), ...video.steps.flatMap((step) => stepFilters(step, video, tuning))];
}

/**
 * What a first pass looks at the camera's shaking through: the steps before stabilising; null where nothing is
 * stabilised.
 */
export function shakePass(video: VideoPlan, resultFile: string): string | null {
  const until = video.steps.findIndex((step) => step.kind === 'stabilise');
  if (until < 0) return null;
  const before = video.steps.slice(0, until).flatMap((step) => stepFilters(step, video, {}));
  // Log pictures have little contrast: fields of it count from a tenth on.
  return [
    ...toLegalFilters(video),
    ...before,
    evenly(video, 'yuv420p'),
    `vidstabdetect=result=${resultFile}:shakiness=6:accuracy=15:mincontrast=0.1`,
  ].join(',');
}

/**
 * The filters of one output's picture, from decoded frame to encoder. Tags are set last, so that frame, header and box
 * agree. The tuning holds the baked chain and the drawn burn-in, where the plan has them.
 * @throws RangeError when the chain is to be baked in and its file is missing or not plainly named, or a burn-in is not
 * drawn yet
 */
// eslint-disable-next-line complexity -- one chain of filters in its order, of which most outputs lack some
export function pictureFilters(output: OutputPlan, tuning: Tuning = {}): string {
  const { video } = output;
  const { colour } = video;
  const { lut } = tuning;
  if (output.burn && !tuning.burn) throw new RangeError(`${output.path} needs its burn-in drawn first`);
  if (needsLut(output) && (!lut || !/^[\w/.-]+$/.test(lut)))
    throw new RangeError(`${output.path} needs its chain baked to a plainly named file`);
  const floats = needsLut(output) && keepsLight(output);
  const dense16 = needsLut(output) || viewFilters(video).length > 0 || padFilters(video).length > 0;
  const format = pixelFormat(output);
  // Over samples that nothing can be blended with, it is laid before they become those.
  const laid = layingFormat(format);
  const early = tuning.burn && laid !== format ? laid : null;
  const burnt = tuning.burn
    ? burnFilters(
        tuning.burn,
        laid,
        video.raster,
        scalerMatrix[early ? workingMatrix(output) : matrixMade(video)] ?? 'bt709',
        'burn',
      )
    : [];
  return [
    ...stepsBefore(video, tuning),
    ...(needsLut(output) && lut ? lutFilters(output, lut) : [scaler(video), ...viewFilters(video)]),
    ...padFilters(video),
    ...(early ? [`format=${early}`, ...burnt] : []),
    ...(!floats && (dense16 || early || colour.range === 'full' || changesMatrix(output)) ? lastScaler(output) : []),
    `format=${format}`,
    ...(early ? [] : burnt),
    `setsar=${formatFraction(video.pixelAspect)}`,
    // Every frame once, at the exact rate, whatever the wrapper's clock said.
    `settb=${formatFraction(invert(video.rate))}`,
    'setpts=N',
    `setparams=field_mode=${fieldOf[video.scan]}:range=${colour.range === 'full' ? 'pc' : 'tv'}:color_primaries=${colour.primaries ?? 'unknown'}:color_trc=${colour.transfer ?? 'unknown'}:colorspace=${colour.matrix ?? 'unknown'}`,
  ].join(',');
}
