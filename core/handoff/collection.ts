import { originalKey, type RelinkRow } from '../relink/sheet.ts';
import { parseRational, toNumber } from '../time/rational.ts';
import { timecodeToFrames } from '../time/timecode.ts';

type Json = Record<string, unknown>;

/** An address below the collection's own folder, as OpenTimelineIO's relative `target_url` has it. */
function relativeUrl(path: string): string {
  return path.split('/').map(encodeURIComponent).join('/');
}

/**
 * Every clip of a relink sheet as an OpenTimelineIO collection (SerializableCollection.1 of Clip.2): each with a media
 * reference for each role, its path relative to where the file lies, its range in the output's own timecode, and reel,
 * roll and original in `metadata.relay`. What has no rate (sound alone) is left out.
 */
export function collectionOtio(name: string, rows: readonly RelinkRow[]): string {
  const clips = new Map<string, { row: RelinkRow; media: Record<string, Json> }>();
  for (const row of rows) {
    const rate = parseRational(row.rateFraction);
    if (!rate.ok || rate.value.num <= 0 || row.frames <= 0) continue;
    const start = row.startTimecode === '' ? null : timecodeToFrames(row.startTimecode, rate.value);
    const fps = toNumber(rate.value);
    const key = originalKey(row);
    const clip = clips.get(key) ?? { row, media: {} };
    clips.set(key, clip);
    let role = row.role;
    for (let more = 2; clip.media[role] !== undefined; more += 1) role = `${row.role} ${more}`;
    clip.media[role] = {
      OTIO_SCHEMA: 'ExternalReference.1',
      name: row.output.slice(row.output.lastIndexOf('/') + 1),
      target_url: relativeUrl(row.output),
      available_range: {
        OTIO_SCHEMA: 'TimeRange.1',
        start_time: { OTIO_SCHEMA: 'RationalTime.1', rate: fps, value: start?.ok ? start.value : 0 },
        duration: { OTIO_SCHEMA: 'RationalTime.1', rate: fps, value: row.frames },
      },
      metadata: { relay: { codec: row.codec, raster: row.raster, colour: row.colour ?? '', xxh3: row.outputXxh3 } },
    };
  }
  const children = [...clips.values()].map(({ row, media }) => ({
    OTIO_SCHEMA: 'Clip.2',
    name: row.stem,
    source_range: null,
    effects: [],
    markers: [],
    metadata: { cmx_3600: { reel: row.reel }, relay: { roll: row.roll, original: row.original } },
    media_references: media,
    active_media_reference_key: media.proxy ? 'proxy' : (Object.keys(media)[0] ?? 'DEFAULT_MEDIA'),
  }));
  return `${JSON.stringify({ OTIO_SCHEMA: 'SerializableCollection.1', name, metadata: {}, children }, null, 2)}\n`;
}
