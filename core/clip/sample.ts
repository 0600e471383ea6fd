import type { ClipDescription, VideoDescription } from './description.ts';
import { rational } from '../time/rational.ts';

/** An invented clip for tests: a 1080p log original with six mono tracks. Parts can be replaced. */
export function sampleClip(
  rest: Partial<ClipDescription> = {},
  video: Partial<VideoDescription> = {},
): ClipDescription {
  const rate = video.rate ?? rational(24000, 1001);
  const frames = video.frames ?? 72;
  return {
    path: 'day-1/A001/A001C003.mov',
    stem: 'A001C003',
    sizeBytes: 5_000_000,
    modifiedAt: '2026-11-20T18:00:00.000Z',
    wrapper: 'MOV',
    wrapperId: 'mov',
    video: {
      codec: 'H.264',
      codecId: 'h264',
      profile: 'High 4:2:2',
      raster: { width: 1920, height: 1080 },
      pixelAspect: rational(1),
      pixelAspectTagged: true,
      scan: 'progressive',
      rate,
      rateConstant: true,
      rateVaries: null,
      bitDepth: 10,
      chroma: '4:2:2',
      alpha: false,
      colour: { primaries: 'bt709', transfer: 'bt709', matrix: 'bt709', range: 'legal' },
      quarterTurns: 0,
      frames,
      duration: rational(frames * rate.den, rate.num),
      start: rational(0),
      bitsPerSecond: 13_000_000,
      ...video,
    },
    audio: Array.from({ length: 6 }, () => ({
      codec: 'PCM 24 bit',
      codecId: 'pcm_s24le',
      channels: 1,
      layout: null,
      sampleRate: 48_000,
      bitDepth: 24,
      duration: null,
    })),
    timecode: { start: '10:02:11:08', dropFrame: false },
    reel: 'A001',
    bitsPerSecond: 14_000_000,
    otherStreams: [],
    cutShort: null,
    chapters: [],
    ...rest,
  };
}
