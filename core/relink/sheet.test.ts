import { expect, it } from 'vitest';
import { sampleClip } from '../clip/sample.ts';
import type { OutputPlan } from '../recipe/legPlan.ts';
import { planLeg } from '../recipe/plan.ts';
import { finishAndCut } from '../recipe/recipe.ts';
import { unwrap } from '../result.ts';
import { relinkCsv, relinkJson, relinkRow } from './sheet.ts';

const placed = {
  state: 'proved' as const,
  frames: 72,
  outputBytes: 1000,
  outputXxh3: '0123456789abcdef',
  originalXxh3: 'fedcba9876543210',
};

it('leads every output back to its original', () => {
  const plan = unwrap(planLeg(sampleClip(), finishAndCut));
  const row = relinkRow(plan, plan.outputs[1] as OutputPlan, placed, 'salt-lantern');
  expect(row).toMatchObject({
    stem: 'A001C003',
    roll: 'A001',
    reel: 'A001',
    startTimecode: '10:02:11:08',
    frames: 72,
    rate: '23.976',
    rateFraction: '24000/1001',
    original: 'day-1/A001/A001C003.mov',
    output: 'proxy/day-1/A001/A001C003.mov',
    channelsByTrack: '1 1 1 1 1 1',
    originalXxh3: 'fedcba9876543210',
  });
  expect(JSON.parse(relinkJson([row]))).toEqual({ version: 1, rows: [row] });
});

it('writes CSV that survives quotes, commas and cells a spreadsheet would run', () => {
  const clip = sampleClip({ path: 'A001/=cmd,"x".mov', stem: '=cmd,"x"', reel: '+1' });
  const plan = unwrap(planLeg(clip, finishAndCut));
  const [header, line] = relinkCsv([relinkRow(plan, plan.outputs[0] as OutputPlan, placed, 'card')]).split('\r\n');
  expect(header?.split(',')[0]).toBe('stem');
  expect(line?.startsWith('"\'=cmd,""x""",A001,\'+1,')).toBe(true);
});

it('counts no frames and knows no rate of what is of sound alone', () => {
  const plan = unwrap(planLeg(sampleClip(), finishAndCut));
  const heard = { ...plan, original: { ...plan.original, video: null } };
  expect(relinkRow(heard, plan.outputs[0] as OutputPlan, placed, 'card')).toMatchObject({
    frames: 0,
    rate: '',
    rateFraction: '',
    originalFrames: 0,
    originalRate: '',
    originalRaster: '',
    raster: '',
  });
});

it('writes a drift to either side as the number that it is, and nothing that begins like a formula in whatever script', () => {
  const clip = sampleClip({ path: 'A001/＝x.mov', stem: '＝x', reel: '\u200b=1' });
  const plan = unwrap(planLeg(clip, finishAndCut));
  const row = { ...relinkRow(plan, plan.outputs[0] as OutputPlan, placed, 'card'), driftSeconds: '-0.004167' };
  const [, line = ''] = relinkCsv([row]).split('\r\n');
  expect(line.startsWith("'＝x,A001,'\u200b=1,")).toBe(true);
  expect(line).toContain(',-0.004167,');
});
