import { toNumber, type Rational } from '../../time/rational.ts';
import { multiply, divide } from '../../time/rational.ts';
import type { Cut, CutEvent, CutMarker, CutTrack, Metadata, Transition } from '../cut.ts';
import { byRecord } from '../order.ts';
import { speedOf } from '../retime.ts';
import { urlOfPath } from './media.ts';

type Json = Record<string, unknown>;

const timeOf = (value: number, rate: Rational): Json => ({
  OTIO_SCHEMA: 'RationalTime.1',
  value,
  rate: toNumber(rate),
});

const rangeOf = (from: number, length: number, rate: Rational): Json => ({
  OTIO_SCHEMA: 'TimeRange.1',
  start_time: timeOf(from, rate),
  duration: timeOf(length, rate),
});

/** What OpenTimelineIO cannot say of a cut: to be read before it is written. */
export function otioCannotSay(cut: Cut): string[] {
  const said: string[] = [];
  const taken = new Map<string, number>();
  const overlapping = byRecord(cut).filter(({ record, tracks }) => {
    const over = tracks.some((track) => (taken.get(track) ?? -Infinity) > record.from);
    for (const track of tracks) taken.set(track, Math.max(taken.get(track) ?? -Infinity, record.to));
    return over;
  });
  if (overlapping.length > 0)
    said.push(`${overlapping.length} events begin before the one before them ends: they are put after it`);
  if (cut.dropFrame || cut.events.some(({ source }) => source.dropFrame))
    said.push('Which labels are drop-frame: times are frames there');
  const trackless = cut.events.filter(({ tracks }) => tracks.length === 0).length;
  if (trackless > 0) said.push(`${trackless} events on no track`);
  if (cut.events.some(({ tracks }) => tracks.length > 1))
    said.push('That one event is on several tracks: it is a clip on each');
  return said;
}

/** A cut as OpenTimelineIO's JSON. What it cannot say, {@link otioCannotSay} says. */
export function writeOtio(cut: Cut): string {
  const events = byRecord(cut);
  const timeline = {
    OTIO_SCHEMA: 'Timeline.1',
    name: cut.title,
    global_start_time: timeOf(cut.start, cut.rate.rate),
    metadata: withComments(cut.metadata, cut.comments, null),
    tracks: {
      OTIO_SCHEMA: 'Stack.1',
      name: 'tracks',
      source_range: null,
      effects: [],
      markers: cut.markers
        .filter(({ track }) => track === null)
        .map((marker) => markerOf(cut, marker, cut.start, null)),
      metadata: {},
      children: cut.tracks.map((track) =>
        trackOf(
          cut,
          track,
          events.filter(({ tracks }) => tracks.includes(track.id)),
        ),
      ),
    },
  };
  return `${JSON.stringify(timeline, null, 2)}\n`;
}

function withComments(metadata: Metadata | undefined, comments: readonly string[], reel: string | null): Json {
  const kept = metadata?.cmx_3600;
  const beside = { ...(reel === null ? {} : { reel }), ...(comments.length > 0 ? { comments } : {}) };
  return Object.keys(beside).length > 0
    ? { ...metadata, cmx_3600: { ...(typeof kept === 'object' ? kept : {}), ...beside } }
    : { ...metadata };
}

function trackOf(cut: Cut, track: CutTrack, events: readonly CutEvent[]): Json {
  const children: Json[] = [];
  let at = cut.start;
  for (const event of events) {
    if (event.record.from > at) children.push(gapOf(event.record.from - at, cut.rate.rate));
    if (event.transition) children.push(transitionOf(event.transition, cut.rate.rate));
    children.push(clipOf(cut, event, track));
    at = Math.max(at, event.record.to);
  }
  return {
    OTIO_SCHEMA: 'Track.1',
    name: track.name,
    kind: track.kind === 'picture' ? 'Video' : 'Audio',
    source_range: null,
    effects: [],
    markers: [],
    metadata: {},
    children,
  };
}

function gapOf(length: number, rate: Rational): Json {
  return {
    OTIO_SCHEMA: 'Gap.1',
    name: '',
    source_range: rangeOf(0, length, rate),
    effects: [],
    markers: [],
    metadata: {},
  };
}

function transitionOf({ kind, frames, before, code }: Transition, rate: Rational): Json {
  return {
    OTIO_SCHEMA: 'Transition.1',
    name: '',
    transition_type: code ?? (kind === 'dissolve' ? 'SMPTE_Dissolve' : 'SMPTE_Wipe'),
    in_offset: timeOf(before, rate),
    out_offset: timeOf(frames - before, rate),
    metadata: {},
  };
}

function clipOf(cut: Cut, event: CutEvent, track: CutTrack): Json {
  const { source, record, retime, comments, metadata } = event;
  // Lengths are of the cut's time, whatever the speed.
  const length = multiply({ num: record.to - record.from, den: 1 }, divide(source.rate, cut.rate.rate));
  return {
    OTIO_SCHEMA: 'Clip.2',
    name: source.clip ?? '',
    source_range: rangeOf(source.frames?.from ?? 0, toNumber(length), source.rate),
    effects:
      retime === null
        ? []
        : [
            retime.kind === 'freeze'
              ? { OTIO_SCHEMA: 'FreezeFrame.1', name: '', effect_name: 'FreezeFrame', time_scalar: 0, metadata: {} }
              : {
                  OTIO_SCHEMA: 'LinearTimeWarp.1',
                  name: '',
                  effect_name: 'LinearTimeWarp',
                  time_scalar: toNumber(speedOf(retime)),
                  metadata: {},
                },
          ],
    markers: cut.markers
      .filter(({ at, track: of }) => of === track.id && at >= record.from && at < record.to)
      .map((marker) => markerOf(cut, marker, record.from, event)),
    metadata: withComments(metadata, comments, source.reel),
    media_references: { DEFAULT_MEDIA: mediaOf(event) },
    active_media_reference_key: 'DEFAULT_MEDIA',
  };
}

function mediaOf({ source }: CutEvent): Json {
  const { available, rate, file, kind } = source;
  const range = available ? rangeOf(available.from, available.to - available.from, rate) : null;
  const base = { name: '', available_range: range, metadata: {} };
  if (kind !== 'media')
    return {
      OTIO_SCHEMA: 'GeneratorReference.1',
      ...base,
      generator_kind: kind === 'black' ? 'black' : 'generated',
      parameters: {},
    };
  return file === null
    ? { OTIO_SCHEMA: 'MissingReference.1', ...base }
    : { OTIO_SCHEMA: 'ExternalReference.1', ...base, target_url: urlOfPath(file) };
}

/** A marker, counted from where what it sits on begins. */
function markerOf(cut: Cut, { at, frames, text, colour }: CutMarker, from: number, on: CutEvent | null): Json {
  const rate = cut.rate.rate;
  const begin = on ? (on.source.frames?.from ?? 0) * (rate.num / rate.den / toNumber(on.source.rate)) : 0;
  return {
    OTIO_SCHEMA: 'Marker.2',
    name: text,
    comment: '',
    color: (colour ?? 'white').toUpperCase(),
    marked_range: rangeOf(begin + at - from, frames, rate),
    metadata: {},
  };
}
