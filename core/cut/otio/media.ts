import type { CutSource, Metadata, Span } from '../cut.ts';
import { isObject, objectsOf, rangeOf, schemaOf, textOf, type Otio, type RationalTime } from './json.ts';

/** The reference to media that counts for a clip: that of `Clip.1`, or the active one of `Clip.2`. */
export function mediaOf(clip: Otio): Otio | null {
  if (isObject(clip.media_reference)) return clip.media_reference;
  if (!isObject(clip.media_references)) return null;
  const references = clip.media_references;
  const active = references[textOf(clip.active_media_reference_key) ?? 'DEFAULT_MEDIA'];
  if (isObject(active)) return active;
  return objectsOf(Object.values(references))[0] ?? null;
}

/** A path out of an address: `file:///a%20b` is `/a b`; other addresses stay as they are. */
export function pathOfUrl(url: string): string {
  const local = /^file:(?:\/\/(?:localhost)?)?(\/.*)$/i.exec(url);
  if (!local) return url;
  try {
    return decodeURIComponent(local[1] ?? '');
  } catch {
    return local[1] ?? '';
  }
}

/** The address of a path: what is no absolute path stays as it is. */
export function urlOfPath(path: string): string {
  return path.startsWith('/') ? `file://${path.split('/').map(encodeURIComponent).join('/')}` : path;
}

/** Where a reference's media lies; null where it does not say. Of a sequence its first picture. */
function fileOf(media: Otio): string | null {
  switch (schemaOf(media)) {
    case 'ExternalReference': {
      const url = textOf(media.target_url);
      return url === null ? null : pathOfUrl(url);
    }
    case 'ImageSequenceReference': {
      const base = pathOfUrl(textOf(media.target_url_base) ?? '');
      const digits = typeof media.frame_zero_padding === 'number' ? Math.min(12, media.frame_zero_padding) : 0;
      const first = String(typeof media.start_frame === 'number' ? media.start_frame : 0).padStart(digits, '0');
      const name = `${textOf(media.name_prefix) ?? ''}${first}${textOf(media.name_suffix) ?? ''}`;
      return `${base}${base === '' || base.endsWith('/') ? '' : '/'}${name}`;
    }
    default:
      return null;
  }
}

/** How deep a reel is looked for in what programs keep beside a clip. */
const reelDepth = 3;

/** A reel in metadata: under `reel` or `reel_name`, in whichever program's own part. */
export function reelIn(metadata: unknown, depth = 0): string | null {
  if (!isObject(metadata) || depth >= reelDepth) return null;
  const entries = Object.entries(metadata).slice(0, 200);
  for (const [name, value] of entries) {
    const plain = name.toLowerCase().replaceAll(/[^a-z]/g, '');
    if ((plain === 'reel' || plain === 'reelname') && textOf(value) !== null) return textOf(value);
  }
  for (const [, value] of entries) {
    const found = reelIn(value, depth + 1);
    if (found !== null) return found;
  }
  return null;
}

/** What a clip shows, but for which frames. */
export function sourceOf(clip: Otio, media: Otio | null): Omit<CutSource, 'rate' | 'frames'> {
  const schema = media ? schemaOf(media) : '';
  const generator = schema === 'GeneratorReference' ? (textOf(media?.generator_kind) ?? '') : null;
  return {
    kind: generator === null ? 'media' : /^black$/i.test(generator) ? 'black' : 'generated',
    reel: reelIn(clip.metadata) ?? reelIn(media?.metadata),
    clip: textOf(clip.name) ?? textOf(media?.name),
    file: media ? fileOf(media) : null,
    dropFrame: false,
    labels: null,
    ...availableOf(media),
  };
}

function availableOf(media: Otio | null): { available?: Span } {
  const range = rangeOf(media?.available_range);
  if (!range) return {};
  const whole = ({ value }: RationalTime): number => Math.round(value.num / value.den);
  const from = whole(range.start);
  return { available: { from, to: from + whole(range.duration) } };
}

/** Comments that lists of lines had, as they are kept beside a clip. */
export function commentsIn(metadata: Metadata | undefined): string[] {
  const kept = metadata?.cmx_3600;
  const comments = isObject(kept) ? kept.comments : [];
  return Array.isArray(comments) ? comments.filter((one): one is string => typeof one === 'string').slice(0, 200) : [];
}
