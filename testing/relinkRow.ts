import type { RelinkRow } from '@relay/core/relink/sheet';

/** A line of a relink sheet: 48 frames of a clip at 24 from an hour on, with whatever a test wants otherwise. */
export function relinkRow(over: Partial<RelinkRow> = {}): RelinkRow {
  const role = over.role ?? 'proxy';
  return {
    stem: 'A001C001',
    roll: 'A001',
    reel: 'A001',
    startTimecode: '01:00:00:00',
    frames: 48,
    rate: '24',
    rateFraction: '24/1',
    original: 'day-1/A001/A001C001.mov',
    originalBytes: 1_000,
    originalFrames: 48,
    originalRate: '24',
    originalRaster: '1920×1080',
    originalPixelAspect: '1:1',
    originalXxh3: '0123456789abcdef',
    output: `${role}/day-1/A001/A001C001.${role === 'proxy' ? 'mp4' : 'mov'}`,
    role,
    codec: role === 'proxy' ? 'H.264' : 'ProRes 422 HQ',
    raster: '1920×1080',
    pixelAspect: '1:1',
    channelsByTrack: '1 1',
    corrected: '',
    state: 'proved',
    outputBytes: 100,
    outputXxh3: 'fedcba9876543210',
    ...over,
  };
}
