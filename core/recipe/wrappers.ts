import type { Raster } from '../shape/raster.ts';
import type { SoundCodec, VideoCodec, WrapperId } from './recipe.ts';

/** What a wrapper is called, what it can hold, and what is good to know of it. */
export interface WrapperRow {
  name: string;
  ending: string;
  /** The id by which a file in it is recognised when read back. */
  wrapperId: string;
  codecs: readonly VideoCodec['id'][];
  sound: readonly SoundCodec['codec'][];
  /** Whether start timecode, reel and colour tags have a place in it. */
  timecode: boolean;
  /** It cannot be without a start timecode: where there is none it states midnight. */
  alwaysTimecode?: true;
  reel: boolean;
  colourTags: boolean;
  pixelAspect: boolean;
  /** The only rates it is made at; any where absent. */
  rates?: ReadonlySet<string>;
  /** Rasters at which it holds no H.264 of 4:2:2: it would be written without its headers, whatever tag it is told. */
  headless?: readonly Raster[];
  /** Whether the names of PCM's channels have a place in it. */
  layouts: boolean;
  /** One file; or a folder that holds a file for each track, or one for each picture with the sound beside them. */
  holds: 'one file' | 'a file for each track' | 'a file for each picture';
  /** What tracks of sound become: kept, each channel a track of its own, or all channels in one. */
  tracks: 'kept' | 'single channels' | 'one';
  good: string;
}

/** Pictures a second that FFmpeg 5.1 writes into MXF; others end it (each tried). */
const mxfRates: ReadonlySet<string> = new Set([
  '24000/1001',
  '24',
  '25',
  '30000/1001',
  '30',
  '48000/1001',
  '48',
  '50',
  '60000/1001',
  '60',
  '72',
  '90',
  '96',
  '100',
  '120000/1001',
  '120',
]);

/** The table of wrappers. What was seen to work with FFmpeg 5.1 is in it, and nothing else is offered. */
export const wrappers: Readonly<Record<WrapperId, WrapperRow>> = {
  mov: {
    name: 'MOV',
    ending: 'mov',
    wrapperId: 'mov',
    codecs: ['prores', 'vc3', 'vc3hd', 'vc5', 'h264', 'hevc', 'mjpeg', 'ffv1', 'v210'],
    sound: ['pcm', 'aac'],
    timecode: true,
    reel: true,
    colourTags: true,
    pixelAspect: true,
    headless: [
      { width: 3840, height: 2160 },
      { width: 4096, height: 2160 },
      { width: 2048, height: 1080 },
    ],
    layouts: true,
    holds: 'one file',
    tracks: 'kept',
    good: 'cuts everywhere; keeps reel, timecode and every sound track',
  },
  mp4: {
    name: 'MP4',
    ending: 'mp4',
    wrapperId: 'mp4',
    codecs: ['h264', 'hevc', 'av1'],
    sound: ['aac'],
    timecode: true,
    reel: false,
    colourTags: true,
    pixelAspect: true,
    layouts: true,
    holds: 'one file',
    tracks: 'kept',
    good: 'plays in browsers, phones and televisions; keeps no reel',
  },
  mxf: {
    name: 'MXF OP1a',
    ending: 'mxf',
    wrapperId: 'mxf-op1a',
    codecs: ['vc3', 'vc3hd'],
    sound: ['pcm'],
    timecode: true,
    alwaysTimecode: true,
    reel: true,
    colourTags: true,
    pixelAspect: true,
    rates: mxfRates,
    layouts: false,
    holds: 'one file',
    tracks: 'kept',
    good: 'for broadcast and servers; one file',
  },
  opatom: {
    name: 'MXF OP-Atom',
    ending: '',
    wrapperId: 'mxf-op-atom',
    codecs: ['vc3', 'vc3hd'],
    sound: ['pcm'],
    timecode: true,
    alwaysTimecode: true,
    reel: true,
    colourTags: true,
    pixelAspect: true,
    rates: mxfRates,
    layouts: false,
    holds: 'a file for each track',
    tracks: 'single channels',
    good: 'a folder of single tracks, one MXF file each, that belong together; for systems that keep their media so',
  },
  mkv: {
    name: 'Matroska',
    ending: 'mkv',
    wrapperId: 'matroska',
    codecs: ['ffv1', 'h264', 'hevc', 'av1'],
    sound: ['pcm', 'aac'],
    timecode: true,
    reel: true,
    colourTags: true,
    pixelAspect: true,
    layouts: false,
    holds: 'one file',
    tracks: 'kept',
    good: 'for archives; few cutting programs take it',
  },
  avi: {
    name: 'AVI',
    ending: 'avi',
    wrapperId: 'avi',
    codecs: ['mjpeg', 'v210'],
    sound: ['pcm'],
    timecode: true,
    reel: false,
    colourTags: false,
    pixelAspect: false,
    layouts: false,
    holds: 'one file',
    tracks: 'kept',
    good: 'for old machines',
  },
  pictures: {
    name: 'Image sequence',
    ending: '',
    wrapperId: 'pictures',
    codecs: ['pictures'],
    sound: ['pcm'],
    timecode: true,
    reel: false,
    colourTags: false,
    pixelAspect: false,
    layouts: false,
    holds: 'a file for each picture',
    tracks: 'one',
    good: 'a folder of images numbered by timecode, and one sound file',
  },
  wav: {
    name: 'Broadcast Wave',
    ending: 'wav',
    wrapperId: 'wav',
    codecs: ['none'],
    sound: ['pcm'],
    timecode: true,
    reel: false,
    colourTags: false,
    pixelAspect: true,
    layouts: false,
    holds: 'one file',
    tracks: 'one',
    good: 'all channels in one file, with the time of its first sample',
  },
};

/** Why a wrapper cannot hold a codec with its sound; null when it can. */
export function wrapperProblem(wrapper: WrapperId, codec: VideoCodec['id'], sound: SoundCodec['codec']): string | null {
  const row = wrappers[wrapper];
  if (!row.codecs.includes(codec)) return `${row.name} cannot hold this codec`;
  return row.sound.includes(sound) ? null : `${row.name} does not hold ${sound === 'pcm' ? 'PCM sound' : 'AAC sound'}`;
}
