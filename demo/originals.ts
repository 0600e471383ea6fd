import { rational, type Rational } from '@relay/core/time/rational';
import type { Shot } from './scene/estuary.ts';

/** How the light of a scene becomes code values. */
export type Recording = 'slog3' | 'display';

/** One painted original: what is seen, and how it is recorded. Trouble is on purpose. */
export interface Original {
  /** Path below the production's folder. */
  path: string;
  title: string;
  shot: Shot;
  width: number;
  height: number;
  pixelAspect: number;
  /** Painted at this share of the raster and enlarged, where the brush would take too long. */
  paintedAt?: number;
  /** Frames painted and frames a second; fields are painted at twice the rate. */
  frames: number;
  rate: Rational;
  interlaced: boolean;
  recording: Recording;
  /** Strength of the sensor's noise, in 16-bit codes. */
  noise: number;
  timecode: string | null;
  chart: boolean;
  /** Columns of black left and right, as a film scanner leaves them. */
  pillars?: { left: number; right: number };
  /** Sound tracks in order: what each carries. */
  sound: ('sea' | 'bell' | 'silence' | 'stereo')[];
  /** FFmpeg's arguments that encode picture and sound; the painter supplies inputs and mapping. */
  encode: string[];
  /** Invented maker and model, where the file names its camera. */
  device?: { maker: string; model: string };
  /** Kept share of the finished file, for one that was cut short. */
  keep?: number;
}

const film24 = rational(24000, 1001);
const wide: Shot = {
  seed: 11,
  dusk: 0.15,
  horizon: 0.56,
  sunX: 0.62,
  lighthouse: { x: 0.94, height: 0.42 },
  ferry: { x: 0.42, speed: 0.014, size: 0.13 },
};
const passage: Shot = {
  seed: 23,
  dusk: 0.45,
  horizon: 0.6,
  sunX: 1.5,
  lighthouse: { x: 0.3, height: 0.2 },
  ferry: { x: 1.1, speed: -0.02, size: 0.3 },
};
const lantern: Shot = {
  seed: 37,
  dusk: 0.82,
  horizon: 0.68,
  sunX: 0.2,
  lighthouse: { x: 1.05, height: 0.58 },
  ferry: null,
};
const lastBoat: Shot = {
  seed: 52,
  dusk: 0.95,
  horizon: 0.52,
  sunX: 0.9,
  lighthouse: { x: 1.55, height: 0.26 },
  ferry: { x: 0.62, speed: 0.025, size: 0.22 },
};
const shore: Shot = {
  seed: 64,
  dusk: 0.3,
  horizon: 0.5,
  sunX: 1.1,
  lighthouse: null,
  ferry: { x: 0.8, speed: 0.02, size: 0.1 },
};

const tags709 = ['-color_primaries', 'bt709', '-color_trc', 'bt709', '-colorspace', 'bt709', '-color_range', 'tv'];
const fast = ['-preset', 'veryfast', '-threads', '2'];
const intra422 = [
  '-c:v',
  'libx264',
  ...fast,
  '-profile:v',
  'high422',
  '-pix_fmt',
  'yuv422p10le',
  '-crf',
  '14',
  ...tags709,
];
const log = [...intra422, '-g', '12', '-bf', '2'];
const pcm24 = ['-c:a', 'pcm_s24le'];

const devices = {
  a: { maker: 'Tarnmoor', model: 'T6' },
  b: { maker: 'Tarnmoor', model: 'T6 Light' },
  c: { maker: 'Ollenby', model: 'Wide 4' },
  field: { maker: 'Fennock', model: 'F20' },
  phone: { maker: 'Skerrick', model: 'Nine' },
} as const;

const base = {
  pixelAspect: 1,
  interlaced: false,
  recording: 'display',
  noise: 160,
  timecode: null,
  chart: false,
} as const;
const aCamera = {
  ...base,
  width: 1920,
  height: 1080,
  rate: film24,
  recording: 'slog3',
  device: devices.a,
  noise: 260,
  sound: ['silence', 'sea', 'silence', 'silence', 'bell', 'silence'],
} as const;
const cCamera = {
  ...base,
  device: devices.c,
  width: 1440,
  height: 1080,
  pixelAspect: 4 / 3,
  rate: rational(24),
  chart: true,
  sound: ['sea', 'bell'],
} as const;
const fields = {
  ...base,
  device: devices.field,
  width: 1920,
  height: 1080,
  rate: rational(25),
  interlaced: true,
  sound: ['sea', 'bell', 'silence', 'silence'],
  encode: [
    '-c:v',
    'mpeg2video',
    '-pix_fmt',
    'yuv422p',
    '-b:v',
    '50M',
    '-minrate',
    '50M',
    '-maxrate',
    '50M',
    '-bufsize',
    '17M',
    '-flags',
    '+ildct+ilme',
    '-top',
    '1',
    '-g',
    '12',
    '-bf',
    '2',
    '-qmin',
    '1',
    ...tags709,
    ...pcm24,
    '-f',
    'mxf',
  ],
} as const;

function reel(name: string): string[] {
  return ['-metadata:s:v:0', `reel_name=${name}`];
}

/** The demo production's originals, by shooting day and roll. */
export const originals: readonly Original[] = [
  {
    ...aCamera,
    sound: [...aCamera.sound],
    path: 'day-1/A001/A001C003.mov',
    title: 'A001 C003',
    shot: wide,
    frames: 72,
    timecode: '10:02:11:08',
    chart: true,
    encode: [...log, ...pcm24, ...reel('A001')],
  },
  {
    ...aCamera,
    sound: [...aCamera.sound],
    path: 'day-1/A001/A001C004.mov',
    title: 'A001 C004',
    shot: passage,
    frames: 60,
    timecode: '10:04:27:19',
    encode: [...log, ...pcm24, ...reel('A001')],
  },
  {
    ...base,
    path: 'day-1/B001/B001C001.mp4',
    device: devices.b,
    title: 'B001 C001',
    shot: { ...passage, seed: 24, sunX: 0.4 },
    width: 3840,
    height: 2160,
    paintedAt: 0.5,
    frames: 36,
    rate: film24,
    timecode: '10:04:27:02',
    sound: ['stereo'],
    noise: 120,
    encode: [
      '-c:v',
      'libx265',
      '-preset',
      'ultrafast',
      '-x265-params',
      'log-level=error:pools=2',
      '-pix_fmt',
      'yuv420p10le',
      '-crf',
      '20',
      '-tag:v',
      'hvc1',
      ...tags709,
      '-c:a',
      'aac',
      '-b:a',
      '192k',
    ],
  },
  {
    ...cCamera,
    sound: [...cCamera.sound],
    path: 'day-1/C001/C001C011.mov',
    title: 'C001 C011',
    shot: lantern,
    frames: 48,
    timecode: '14:20:02:15',
    encode: [...intra422, '-aspect', '4:3', ...pcm24, ...reel('C001')],
  },
  {
    ...cCamera,
    sound: [...cCamera.sound],
    path: 'day-1/C001/C001C012.mov',
    title: 'C001 C012',
    shot: { ...lantern, seed: 38, dusk: 0.55 },
    frames: 36,
    timecode: '14:22:40:01',
    encode: [...intra422, '-aspect', '16:9', ...pcm24, ...reel('C001')],
  },
  {
    ...base,
    path: 'day-1/S009/S009C001.mov',
    title: 'S009 C001',
    shot: { ...shore, seed: 65 },
    width: 1280,
    height: 720,
    frames: 120,
    rate: rational(60000, 1001),
    timecode: '16:45:10;12',
    sound: ['stereo'],
    encode: [
      '-c:v',
      'libx264',
      ...fast,
      '-pix_fmt',
      'yuv420p',
      '-crf',
      '16',
      ...tags709,
      '-c:a',
      'pcm_s16le',
      ...reel('S009'),
    ],
  },
  {
    ...fields,
    sound: [...fields.sound],
    encode: [...fields.encode],
    path: 'day-2/D004/ESSENCE/UNIT01/C0001.MXF',
    title: 'D004 C0001',
    shot: lastBoat,
    frames: 38,
    timecode: '20:10:00:00',
  },
  {
    ...fields,
    sound: [...fields.sound],
    encode: [...fields.encode],
    path: 'day-2/D005/ESSENCE/UNIT01/C0001.MXF',
    title: 'D005 C0001',
    shot: { ...lastBoat, seed: 53, horizon: 0.6 },
    frames: 38,
    timecode: '21:02:30:00',
  },
  {
    ...base,
    path: 'day-2/T001/T001C001.ts',
    title: 'T001 C001',
    shot: { ...shore, dusk: 0.7 },
    width: 1920,
    height: 1080,
    frames: 38,
    rate: rational(25),
    interlaced: true,
    sound: ['stereo'],
    encode: [
      '-c:v',
      'libx264',
      ...fast,
      '-pix_fmt',
      'yuv420p',
      '-crf',
      '18',
      '-flags',
      '+ildct+ilme',
      '-x264-params',
      'tff=1',
      ...tags709,
      '-c:a',
      'mp2',
      '-b:a',
      '256k',
      '-f',
      'mpegts',
    ],
  },
  {
    ...base,
    path: 'day-2/P000/P000_0007.mp4',
    device: devices.phone,
    title: 'P000 0007',
    shot: { ...shore, seed: 66, dusk: 0.05, sunX: 0.7 },
    width: 1920,
    height: 1080,
    frames: 75,
    rate: rational(30),
    noise: 420,
    sound: ['stereo'],
    // Some pictures come late, some early, and the rate drops while the phone finds its exposure.
    encode: [
      '-vf',
      "settb=1/90000,setpts='N*3000+mod(N*7919,7)*130+if(gt(N,40),(N-40)*120,0)'",
      '-vsync',
      'vfr',
      '-enc_time_base',
      '1/90000',
      '-video_track_timescale',
      '90000',
      '-c:v',
      'libx264',
      ...fast,
      '-pix_fmt',
      'yuv420p',
      '-crf',
      '20',
      '-bf',
      '0',
      ...tags709,
      '-c:a',
      'aac',
      '-b:a',
      '128k',
      '-ar',
      '44100',
    ],
  },
  {
    ...base,
    path: 'day-2/P000/P000_0008.mp4',
    device: devices.phone,
    title: 'P000 0008',
    shot: { ...shore, seed: 67, dusk: 0.6 },
    width: 1920,
    height: 1080,
    frames: 45,
    rate: rational(30),
    noise: 420,
    sound: ['stereo'],
    keep: 0.58,
    encode: [
      '-c:v',
      'libx264',
      ...fast,
      '-pix_fmt',
      'yuv420p',
      '-crf',
      '20',
      '-bf',
      '0',
      ...tags709,
      '-c:a',
      'aac',
      '-b:a',
      '128k',
      '-movflags',
      '+faststart+use_metadata_tags',
    ],
  },
  {
    ...base,
    path: 'day-2/F001/F001_r1.mov',
    title: 'F001 R1',
    shot: { ...wide, seed: 71, dusk: 0.35, lighthouse: { x: 0.95, height: 0.5 }, horizon: 0.62 },
    width: 1920,
    height: 1080,
    frames: 40,
    rate: rational(25),
    noise: 900,
    pillars: { left: 236, right: 244 },
    timecode: '01:00:00:00',
    sound: ['sea', 'bell'],
    encode: [
      '-c:v',
      'prores_ks',
      '-profile:v',
      'standard',
      '-q:v',
      '9',
      '-pix_fmt',
      'yuv422p10le',
      ...tags709,
      ...pcm24,
      ...reel('F001'),
    ],
  },
];

/** A set of painted files: what the painter makes, and what is written beside it. */
export interface PaintedSet {
  /** Raised whenever the set changes, so that an older one is painted anew. */
  edition: number;
  originals: readonly Original[];
  companions: readonly { path: string; content: string | Buffer }[];
}

/** What lies beside the essence on cards, and a file that only looks like a clip. */
export const companions: readonly { path: string; content: string }[] = [
  {
    path: 'day-2/D004/INDEX/CARD.XML',
    content:
      '<?xml version="1.0" encoding="UTF-8"?>\n<card name="D004"><clip file="../ESSENCE/UNIT01/C0001.MXF"/></card>\n',
  },
  {
    path: 'day-2/D004/ESSENCE/UNIT01/C0001.XML',
    content: '<?xml version="1.0" encoding="UTF-8"?>\n<clip><scene>14</scene><take>2</take></clip>\n',
  },
  {
    path: 'day-2/D005/INDEX/CARD.XML',
    content:
      '<?xml version="1.0" encoding="UTF-8"?>\n<card name="D005"><clip file="../ESSENCE/UNIT01/C0001.MXF"/></card>\n',
  },
  {
    path: 'day-2/D005/ESSENCE/UNIT01/C0001.XML',
    content: '<?xml version="1.0" encoding="UTF-8"?>\n<clip><scene>15</scene><take>1</take></clip>\n',
  },
  {
    path: 'day-2/P000/shot-list.mov',
    content:
      'Scene 14: last boat leaves the quay.\nScene 15: the lamp goes out.\nThis is a text file that somebody renamed.\n',
  },
];

export const saltLantern: PaintedSet = { edition: 2, originals, companions };

/** What the table rows of cameras share, for the cards that have yet to arrive. */
export const cameras = { aCamera, base, log, pcm24, tags709, fast, passage, lastBoat, shore, reel } as const;
