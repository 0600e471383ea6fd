import type { OutputPlan } from '@relay/core/recipe/plan';

/** The muxer's arguments for one output: one builder for each wrapper. Start timecode and reel go where each has a place for them. */
export function wrapperArguments(output: OutputPlan): string[] {
  const { wrapper, timecode, reel, video } = output;
  const start = timecode ? ['-timecode', timecode.start] : [];
  const reelOn = (where: string): string[] => (reel ? [where, `reel_name=${reel}`] : []);
  switch (wrapper) {
    case 'mov': return [...start, ...reelOn('-metadata:s:v:0'), '-video_track_timescale', String(video.rate.num), '-movflags', '+write_colr', '-f', 'mov'];
    case 'mp4': return [...start, '-video_track_timescale', String(video.rate.num), '-movflags', '+write_colr+faststart', '-f', 'mp4'];
    case 'mxf': return [...start, ...reelOn('-metadata'), '-f', 'mxf'];
    // Times are written in milliseconds, which no rate of film fits: the rate is read back from the frames' own duration.
    case 'mkv': return [...start, ...reelOn('-metadata:s:v:0'), '-f', 'matroska'];
    case 'avi': return [...start, '-f', 'avi'];
  }
}
