import { sayTag } from '../colour/tagNames.ts';
import { formatRaster } from '../shape/raster.ts';
import { formatRate } from '../time/rate.ts';
import { formatFraction } from '../time/rational.ts';
import { formatLength } from '../time/timecode.ts';
import type { ClipDescription } from './description.ts';

function colour({ video }: ClipDescription): string {
  if (!video) return '–';
  const tags = [...new Set([video.colour.primaries, video.colour.transfer, video.colour.matrix])]
    .map((tag) => (tag === null ? 'untagged' : sayTag(tag)))
    .join(' / ');
  return `${tags}, ${video.colour.range ?? 'range untagged'}`;
}

function sound({ audio }: ClipDescription): string {
  if (audio.length === 0) return 'none';
  const channels = audio.map((track) => track.channels).join(' + ');
  return `${channels} · ${[...new Set(audio.map((track) => `${track.codec}${track.codec.includes('bit') ? '' : track.bitDepth ? ` ${track.bitDepth} bit` : ''}`))].join(', ')} · ${[...new Set(audio.map((track) => track.sampleRate / 1000))].join(', ')} kHz`;
}

/** A clip's facts by name, and how each is said: what docket, comparison of a selection and lists show. */
export const clipFacts: readonly (readonly [string, (clip: ClipDescription) => string])[] = [
  ['Starts', (c) => c.timecode?.start ?? 'none'],
  [
    'Length',
    ({ video }) =>
      video ? `${formatLength(video.frames, video.rate)} · ${video.frames} frame${video.frames === 1 ? '' : 's'}` : '–',
  ],
  [
    'Rate',
    ({ video }) => {
      if (!video) return '–';
      return video.rateVaries
        ? `varies ${formatRate(video.rateVaries.slowest)}–${formatRate(video.rateVaries.fastest)}`
        : formatRate(video.rate);
    },
  ],
  ['Scan', ({ video }) => video?.scan.replaceAll('-', ' ') ?? '–'],
  ['Raster', ({ video }) => (video ? formatRaster(video.raster) : '–')],
  [
    'Pixel aspect',
    ({ video }) =>
      video ? `${formatFraction(video.pixelAspect, ':')}${video.pixelAspectTagged ? '' : ', untagged'}` : '–',
  ],
  ['Codec', ({ video }) => (video ? [video.codec, video.profile].filter(Boolean).join(' ') : '–')],
  ['Wrapper', (c) => c.wrapper],
  ['Written by', (c) => c.device ?? 'not said'],
  ['Sampling', ({ video }) => (video ? `${video.chroma} ${video.bitDepth} bit${video.alpha ? ', alpha' : ''}` : '–')],
  ['Colour', colour],
  ['Sound', sound],
  ['Data rate', (c) => (c.bitsPerSecond ? `${(c.bitsPerSecond / 1e6).toFixed(1)} Mb/s` : '–')],
  ['Files', (c) => (c.chapters.length > 0 ? `${c.chapters.length} chapters` : 'one')],
];
