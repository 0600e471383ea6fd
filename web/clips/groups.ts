import type { ClipLine } from '@relay/contract/api';
import { isInterlaced } from '@relay/core/clip/description';
import { formatRaster } from '@relay/core/shape/raster';
import { formatRate } from '@relay/core/time/rate';
import { formatFraction, toNumber } from '@relay/core/time/rational';
import { plural } from '../ui/format.ts';

/** A heading over like clips, or a clip: what the sheet shows line by line. */
export type SheetLine = { kind: 'heading'; key: string; text: string; ids: string[] } | { kind: 'clip'; clip: ClipLine };

/** What clips of one group have in common, in a line. */
function common(clip: ClipLine): string {
  const { video } = clip.description;
  if (!video) return [clip.roll, 'sound only'].join(' · ');
  const scan = isInterlaced(video.scan) ? 'i' : 'p';
  const squeeze = video.pixelAspect.num === video.pixelAspect.den ? '' : ` at ${formatFraction(video.pixelAspect, ':')}`;
  return [clip.roll, `${formatRaster(video.raster)}${squeeze}`, video.rateConstant ? `${formatRate(video.rate)}${scan}` : 'varying rate', video.codec].join(' · ');
}

function sayHours(seconds: number): string {
  const whole = Math.round(seconds);
  return `${Math.floor(whole / 3600)}:${String(Math.floor(whole / 60) % 60).padStart(2, '0')}:${String(whole % 60).padStart(2, '0')}`;
}

/** Clips with a heading wherever the group changes. */
export function withHeadings(clips: readonly ClipLine[]): SheetLine[] {
  const groups = new Map<string, ClipLine[]>();
  for (const clip of clips) groups.set(common(clip), [...(groups.get(common(clip)) ?? []), clip]);
  return [...groups].flatMap(([text, members]): SheetLine[] => {
    const seconds = members.reduce((sum, { description }) => sum + (description.video ? toNumber(description.video.duration) : 0), 0);
    return [
      { kind: 'heading', key: text, text: `${text} · ${plural(members.length, 'clip')} · ${sayHours(seconds)}`, ids: members.map((clip) => clip.id) },
      ...members.map((clip): SheetLine => ({ kind: 'clip', clip })),
    ];
  });
}
