import { stat } from 'node:fs/promises';
import type { AudioTrack, ReadEntry, Refusal, RefusalKind, VideoDescription } from '@relay/core/clip/description';
import { closedFormat, codecName, foreignEnding, isSidecar } from '@relay/core/clip/formats';
import { stemOf } from '@relay/core/clip/roll';
import { multiply, rational } from '@relay/core/time/rational';
import { complaints } from '../process/ffmpeg.ts';
import { deviceOf } from './device.ts';
import { startTimecode } from './timecode.ts';
import { fraction, numberOf, stated } from './probedValues.ts';
import { describeVideo } from './video.ts';
import { probeFile, probeFirstFrame, tooLarge, type Probed, type ProbedFrame, type ProbedStream } from './probe.ts';
import { cutShort, startsWithBox } from './wholeness.ts';

/** A file that is looked at, and how it is refused. */
interface Looked {
  path: string;
  shownPath: string;
  sizeBytes: number;
  refuse: (kind: RefusalKind, what: string, remedy: string) => Refusal;
}

const developed = "Develop it with its maker's tool and read the result";

/**
 * Describes one file. `path` is where it lies; `shownPath` how it is called in the result (relative, `/`). Never throws
 * for what is in the file.
 */
export async function describeFile(path: string, shownPath: string): Promise<ReadEntry> {
  let sizeBytes = 0;
  let modifiedAt: string;
  const refuse = (kind: RefusalKind, what: string, remedy: string): Refusal => ({
    path: shownPath,
    sizeBytes,
    problem: { kind, what: `${shownPath} ${what}`, remedy },
  });
  try {
    const stats = await stat(path);
    if (!stats.isFile()) return refuse('not-media', 'is not a file', 'Nothing needs to be done');
    sizeBytes = stats.size;
    modifiedAt = stats.mtime.toISOString();
  } catch (error) {
    return refuse(
      'unreadable',
      `cannot be read: ${(error as NodeJS.ErrnoException).code ?? String(error)}`,
      'Check that the store is mounted and the file may be read, then read again',
    );
  }
  if (isSidecar(shownPath))
    return refuse('sidecar', 'lies beside the clips and is kept with them', 'Nothing needs to be done');
  if (sizeBytes === 0) return refuse('broken', 'holds nothing (0 bytes)', 'Copy it from the card again');

  const file: Looked = { path, shownPath, sizeBytes, refuse };
  const { probed, frame, stderr } = await probeFile(path);
  if (!probed) return notProbed(file, complaints(stderr).join(' '));
  const picture = probed.streams.find((s) => s.codec_type === 'video' && s.disposition?.attached_pic !== 1);
  const sounds = probed.streams.filter((s) => s.codec_type === 'audio');
  const closed = picture ? closedFormat(shownPath, picture.codec_tag_string) : null;
  if (closed) return refuse('not-decodable', `is ${closed}, which cannot be decoded here`, developed);
  if (!picture && sounds.length === 0)
    return refuse('not-media', 'holds neither picture nor sound', 'Nothing needs to be done');
  const wrapper = wrapperOf(probed, sounds.length + (picture ? 1 : 0));
  const video = picture ? await pictureOf(file, picture, frame, { probed, wrapper: wrapper.id }) : null;
  if (video && 'problem' in video) return video;
  return {
    path: shownPath,
    stem: stemOf(shownPath),
    sizeBytes,
    modifiedAt,
    wrapper: wrapper.name,
    wrapperId: wrapper.id,
    video,
    audio: sounds.map(describeAudio),
    timecode: await startTimecode(path, probed, picture, video?.rateConstant ? video.rate : null),
    reel: joinedCopyOf(probed, picture),
    ...deviceOf(probed),
    ...timeReferenceOf(probed, wrapper.id),
    bitsPerSecond: numberOf(probed.format.bit_rate),
    otherStreams: probed.streams
      .filter((s) => s !== picture && s.codec_type !== 'audio' && s.codec_tag_string !== 'tmcd')
      .map((s) => s.codec_name ?? s.codec_tag_string ?? s.codec_type ?? 'data'),
    cutShort: await cutShort(path, sizeBytes, wrapper.id),
    chapters: [],
  };
}

function tooLargeRefused({ refuse }: Looked): Refusal {
  return refuse(
    'not-decodable',
    'holds larger pictures than are read here (12288 × 8192)',
    "Make smaller ones of it with its maker's tool and read those",
  );
}

/** Why a file that ffprobe makes nothing of is none, by what it said. */
async function notProbed(file: Looked, said: string): Promise<Refusal> {
  const { path, shownPath, refuse } = file;
  const closed = closedFormat(shownPath);
  if (closed) return refuse('not-decodable', `is ${closed}, which cannot be decoded here`, developed);
  if (/moov atom not found/.test(said) && (await startsWithBox(path)))
    return refuse(
      'broken',
      'has lost its index: it was cut short, or its recording was not closed',
      'Copy it from the card again',
    );
  if (tooLarge.test(said)) return tooLargeRefused(file);
  if (/Permission denied/.test(said))
    return refuse('unreadable', 'may not be read', 'Give Brisk Relay the right to read it');
  const ending = foreignEnding(shownPath);
  if (ending === 'raw')
    return refuse('not-decodable', "is camera raw, or data, of a maker's own, which cannot be decoded here", developed);
  if (ending !== null)
    return refuse(
      'not-media',
      `is no clip: .${ending} is no ending of video or sound`,
      'Nothing needs to be done; it stays where it lies',
    );
  return refuse(
    'not-media',
    'is no video or sound that can be recognised',
    'If it should be a clip, copy it from the card again',
  );
}

/** The picture of a file, by its first frame; refused where none decodes, or nothing says how long it lasts. */
async function pictureOf(
  file: Looked,
  picture: ProbedStream,
  early: ProbedFrame | null,
  { probed, wrapper }: { probed: Probed; wrapper: string },
): Promise<VideoDescription | Refusal> {
  const { path, refuse } = file;
  // The early one may be another stream's, such as a cover; then the picture's own is asked for.
  const pictures = probed.streams.filter((s) => s.codec_type === 'video');
  const { frame, stderr: said } =
    early && pictures.length === 1
      ? { frame: early, stderr: '' }
      : await probeFirstFrame(path, wrapper === 'mov' || wrapper === 'mp4');
  if (!frame || !picture.width || !picture.height) {
    if (tooLarge.test(said)) return tooLargeRefused(file);
    const known = picture.codec_name && picture.codec_name !== 'unknown' ? codecName(picture.codec_name) : null;
    if (known === null)
      return refuse(
        'not-decodable',
        `holds pictures in ${picture.codec_tag_string ?? 'a format'}, which cannot be decoded here`,
        developed,
      );
    const why = complaints(said, 1).map((line) => ` (${line})`);
    return refuse(
      'broken',
      `holds ${known}, but no picture of it decodes${why.join('')}`,
      'Copy it from the card again',
    );
  }
  return (
    (await describeVideo(path, picture, frame, probed)) ??
    refuse('broken', 'does not say how long its pictures last', 'Copy it from the card again')
  );
}

const wrapperNames: Readonly<Record<string, string>> = {
  mxf: 'MXF',
  mpegts: 'MPEG-TS',
  mpeg: 'MPEG-PS',
  avi: 'AVI',
  matroska: 'Matroska',
  wav: 'WAV',
  w64: 'Wave64',
  aiff: 'AIFF',
  flac: 'FLAC',
  ogg: 'Ogg',
  mp3: 'MP3',
  dv: 'DV',
  gxf: 'GXF',
  asf: 'ASF',
  flv: 'FLV',
};

function wrapperOf(probed: Probed, essenceTracks: number): { id: string; name: string } {
  const id = probed.format.format_name?.split(',')[0] ?? 'unknown';
  const tags = probed.format.tags ?? {};
  if (id === 'mov')
    return tags.major_brand?.startsWith('qt') || tags.major_brand === undefined
      ? { id: 'mov', name: 'MOV' }
      : { id: 'mp4', name: 'MP4' };
  if (id === 'mxf') {
    // Operational pattern label, SMPTE ST 378 (OP1a) and ST 390 (OP-Atom): byte 13 is 01 for OP1a, 10 for OP-Atom.
    const pattern = tags.operational_pattern_ul?.split('.').join('').toLowerCase() ?? '';
    if (pattern.slice(24, 26) === '10') return { id: 'mxf-op-atom', name: 'MXF OP-Atom' };
    if (pattern.slice(24, 28) === '0101' || essenceTracks > 1) return { id: 'mxf-op1a', name: 'MXF OP1a' };
  }
  return { id, name: wrapperNames[id] ?? id };
}

function describeAudio(stream: ProbedStream): AudioTrack {
  const timeBase = fraction(stream.time_base);
  const depth = Number(stream.bits_per_raw_sample) || stream.bits_per_sample || null;
  return {
    codec: codecName(stream.codec_name ?? ''),
    codecId: stream.codec_name ?? 'unknown',
    channels: stream.channels ?? 0,
    layout: stated(stream.channel_layout),
    sampleRate: Number(stream.sample_rate ?? 0),
    bitDepth: depth,
    duration: timeBase && stream.duration_ts ? multiply(rational(stream.duration_ts), timeBase) : null,
  };
}

/** The bext chunk's time (EBU Tech 3285). */
function timeReferenceOf({ format }: Probed, wrapperId: string): { timeReference?: number } {
  const samples = wrapperId === 'wav' ? numberOf(format.tags?.time_reference) : null;
  return samples === null ? {} : { timeReference: samples };
}

function joinedCopyOf(probed: Probed, picture: ProbedStream | undefined): string | null {
  const track = probed.streams.find((s) => s.codec_tag_string === 'tmcd');
  const reel =
    track?.tags?.reel_name ??
    picture?.tags?.reel_name ??
    probed.streams[0]?.tags?.reel_name ??
    probed.format.tags?.reel_name;
  return reel?.trim() ? reel.trim() : null;
}
