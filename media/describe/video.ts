import type { ColourTags, Scan, VideoDescription } from '@relay/core/clip/description';
import { codecName } from '@relay/core/clip/formats';
import { findCadence } from '@relay/core/time/cadence';
import { snapRate } from '@relay/core/time/rate';
import { divide, equal, multiply, rational, toNumber, type Rational } from '@relay/core/time/rational';
import { sampleLayout } from './pixelFormat.ts';
import { probeTicks, type Probed, type ProbedFrame, type ProbedStream } from './probe.ts';
import { fraction, numberOf, stated } from './probedValues.ts';

function scanOf(stream: ProbedStream, frame: ProbedFrame): Scan {
  if (frame.interlaced_frame === 1) return frame.top_field_first === 1 ? 'top-field-first' : 'bottom-field-first';
  switch (stream.field_order) {
    case 'tt':
    case 'tb':
      return 'top-field-first';
    case 'bb':
    case 'bt':
      return 'bottom-field-first';
    default:
      return 'progressive';
  }
}

function colourOf(stream: ProbedStream): ColourTags {
  return {
    primaries: stated(stream.color_primaries),
    transfer: stated(stream.color_transfer),
    matrix: stated(stream.color_space),
    range:
      stream.color_range === 'pc' || stream.pix_fmt?.startsWith('yuvj')
        ? 'full'
        : stream.color_range === 'tv'
          ? 'legal'
          : null,
  };
}

function quarterTurns(stream: ProbedStream): number {
  const degrees = stream.side_data_list?.find((side) => side.rotation !== undefined)?.rotation ?? 0;
  // The display matrix turns counter-clockwise; people say clockwise.
  return ((Math.round(-degrees / 90) % 4) + 4) % 4;
}

/** A picture as its stream and its first frame say that it is; null where nothing says how long it lasts. */
export async function describeVideo(
  path: string,
  stream: ProbedStream,
  frame: ProbedFrame,
  probed: Probed,
): Promise<VideoDescription | null> {
  const timeBase = fraction(stream.time_base);
  if (!timeBase) return null;
  // Matroska states how long a picture lasts (RFC 9559, DefaultDuration), in nanoseconds; the times themselves are
  // rounded to milliseconds.
  const stated = probed.format.format_name?.startsWith('matroska') ? fraction(stream.r_frame_rate) : null;
  const timing = await timingOf(path, stream, timeBase, stated);
  if (!timing) return null;
  const layout = sampleLayout(frame.pix_fmt ?? stream.pix_fmt ?? 'yuv420p');
  const aspect = fraction(stream.sample_aspect_ratio);
  const startTicks = stream.start_pts ?? 0;
  const wrapperStart = Math.round((numberOf(probed.format.start_time) ?? 0) / toNumber(timeBase));
  return {
    codec: codecName(stream.codec_name ?? ''),
    codecId: stream.codec_name ?? 'unknown',
    profile: stream.profile && stream.profile !== 'unknown' ? stream.profile : null,
    raster: { width: stream.width ?? 0, height: stream.height ?? 0 },
    pixelAspect: aspect ?? rational(1),
    pixelAspectTagged: aspect !== null,
    scan: scanOf(stream, frame),
    ...timing,
    bitDepth: layout.bitDepth,
    chroma: layout.chroma,
    alpha: layout.alpha,
    colour: colourOf(stream),
    quarterTurns: quarterTurns(stream),
    start: multiply(rational(Math.max(0, startTicks - wrapperStart)), timeBase),
    bitsPerSecond: numberOf(stream.bit_rate),
  };
}

type Timing = Pick<VideoDescription, 'rate' | 'rateConstant' | 'rateVaries' | 'frames' | 'duration'>;

/**
 * Rate and exact length. An index that agrees with itself is believed; otherwise every packet is looked at.
 */
async function timingOf(
  path: string,
  stream: ProbedStream,
  timeBase: Rational,
  stated: Rational | null,
): Promise<Timing | null> {
  const average = fraction(stream.avg_frame_rate);
  const stepped = fraction(stream.r_frame_rate);
  const counted = numberOf(stream.nb_frames);
  // Of a single picture there is no average.
  const known = average ?? stepped;
  const rate = known ? snapRate(known) : null;
  if (rate && stepped && counted !== null && counted > 0 && stream.duration_ts) {
    const ticksPerFrame = divide(rational(1), multiply(rate, timeBase));
    const off = Math.abs(stream.duration_ts - counted * toNumber(ticksPerFrame));
    if (equal(rate, snapRate(stepped)) && off <= Math.max(1, counted * 1e-4 * toNumber(ticksPerFrame)))
      return constantTiming(rate, counted);
  }
  // MXF has no frame count of its own, but counts its duration in edit units of one frame.
  if (rate && stepped && counted === null && stream.duration_ts && equal(multiply(rate, timeBase), rational(1))) {
    return constantTiming(rate, stream.duration_ts);
  }
  const { ticks, lastDuration } = await probeTicks(path);
  const cadence = findCadence(ticks, timeBase, stated ? snapRate(stated) : null);
  if (!cadence) return ticks.length === 1 && rate ? constantTiming(rate, 1) : null;
  if (cadence.constant) return constantTiming(cadence.rate, ticks.length);
  const extent = ticks.reduce((a, b) => Math.max(a, b)) - ticks.reduce((a, b) => Math.min(a, b)) + lastDuration;
  return {
    rate: cadence.rate,
    rateConstant: false,
    rateVaries: { slowest: cadence.slowest, fastest: cadence.fastest },
    frames: ticks.length,
    duration: multiply(rational(extent), timeBase),
  };
}

function constantTiming(rate: Rational, frames: number): Timing {
  return { rate, rateConstant: true, rateVaries: null, frames, duration: divide(rational(frames), rate) };
}
