import { describe, expect, it } from 'vitest';
import { alongCsv, inStretches, meanPsnr, worstFrames, type Along } from './along.ts';

const along: Along = {
  version: 1,
  rate: { num: 24, den: 1 },
  frames: 96,
  every: 4,
  psnr: [40, null, 30, 31, 50, 50, 50, 50, 20, 50],
  ssim: [0.99, 1, 0.9, 0.91, 0.999, 0.999, 0.999, 0.999, 0.95, 0.999],
  missing: 0,
  seen: null,
  sound: [],
  flow: { output: null, original: null },
};

describe('what was measured along an output', () => {
  it('has its worst frames first, none beside a worse one', () => {
    expect(worstFrames(along, 3)).toEqual([
      { frame: 8, psnr: 30, ssim: 0.9 },
      { frame: 32, psnr: 20, ssim: 0.95 },
      { frame: 20, psnr: 50, ssim: 0.999 },
    ]);
    expect(worstFrames(along, 1)).toHaveLength(1);
    expect(worstFrames({ ...along, psnr: [], ssim: [] }, 3)).toEqual([]);
  });

  it('has the mean of errors and not of decibels', () => {
    // Errors of 1e-4 and 1e-2: their mean is 5.05e-3, by hand 22.967 dB, and not 30.
    expect(meanPsnr([40, 20])).toBeCloseTo(22.967, 3);
    expect(meanPsnr([null, 30])).toBeCloseTo(33.0103, 4);
    expect(meanPsnr([null, null])).toBeNull();
  });

  it('keeps the loudest of each stretch', () => {
    expect(inStretches([1, 5, null, 2, null, null], 3)).toEqual([5, 2, null]);
    expect(inStretches([1, null], 3)).toEqual([1, null]);
  });

  it('is a table, a frame a line', () => {
    const seen = [{ frame: 4, mean: 0.5, p99: 2 }];
    const lines = alongCsv({ ...along, psnr: [40, null], ssim: [0.99, 1], seen }, (frame) => `01:00:00:0${frame}`);
    expect(lines.split('\r\n')).toEqual([
      'frame,timecode,psnr_db,ssim,de_itp_mean,de_itp_p99',
      '1,01:00:00:00,40,0.99,,',
      '5,01:00:00:04,equal,1,0.5,2',
      '',
    ]);
  });
});
