import { describe, expect, it } from 'vitest';
import { sampleClip } from '../clip/sample.ts';
import { correctionsFor, fitsPattern } from '../corrections/corrections.ts';
import { unwrap } from '../result.ts';
import { rational } from '../time/rational.ts';
import { planBatch } from './batch.ts';
import type { OutputPlan } from './legPlan.ts';
import { planLeg } from './plan.ts';
import { finishAndCut, viewingCopies } from './recipe.ts';
import { sayPlan } from './sentence.ts';

function outputsOf(...args: Parameters<typeof planLeg>): { intermediate: OutputPlan; proxy: OutputPlan; said: string } {
  const plan = unwrap(planLeg(...args));
  const [intermediate, proxy] = plan.outputs as [OutputPlan, OutputPlan];
  return { intermediate, proxy, said: sayPlan(plan).join('. ') };
}

describe('the first recipe', () => {
  it('keeps raster, rate, frames, timecode, reel and all tracks of a plain clip, and mirrors its folders', () => {
    const { intermediate, proxy } = outputsOf(sampleClip(), finishAndCut);
    expect(intermediate.path).toBe('intermediate/day-1/A001/A001C003.mov');
    expect(proxy.path).toBe('proxy/day-1/A001/A001C003.mov');
    expect(intermediate.video).toMatchObject({
      raster: { width: 1920, height: 1080 },
      frames: 72,
      rate: rational(24000, 1001),
      steps: [],
    });
    expect(proxy.video.raster).toEqual({ width: 960, height: 540 });
    expect(proxy).toMatchObject({ timecode: { start: '10:02:11:08' }, reel: 'A001' });
    expect(proxy.sound.tracks.map((track) => track.from)).toEqual([0, 1, 2, 3, 4, 5]);
    // 72 frames at 23.976 are 3.003 s: 144,144 samples at 48 kHz.
    expect(proxy.sound.samples).toBe(144_144);
  });

  it('makes one stereo track of a mono pair in review copies, which browsers play one track of, and nowhere else', () => {
    const [track] = sampleClip().audio;
    const pair = sampleClip({ audio: [track, track] as NonNullable<typeof track>[] });
    const review = unwrap(planLeg(pair, viewingCopies));
    expect(review.outputs[0]?.sound.tracks).toMatchObject([
      { channels: 2, layout: 'stereo', sources: [0, 1], mix: [[{ channel: 0, gain: 1 }], [{ channel: 1, gain: 1 }]] },
    ]);
    expect(sayPlan(review).join()).toContain('as one stereo track in the');
    const { proxy, said } = outputsOf(pair, finishAndCut);
    expect(proxy.sound.tracks.map(({ channels }) => channels)).toEqual([1, 1]);
    expect(said).not.toContain('stereo');
    // What somebody picked is what they get.
    const picked = unwrap(planLeg(pair, viewingCopies, { sound: { kind: 'pick', channels: [1, 0] } }));
    expect(picked.outputs[0]?.sound.tracks.map(({ channels }) => channels)).toEqual([1, 1]);
  });

  it('makes tagged pixels square, and undoes a squeeze that only a person knows of', () => {
    const squeezed = sampleClip({}, { raster: { width: 1440, height: 1080 }, pixelAspect: rational(4, 3) });
    expect(outputsOf(squeezed, finishAndCut).intermediate.video.raster).toEqual({ width: 1920, height: 1080 });
    const untagged = sampleClip({}, { raster: { width: 1440, height: 1080 } });
    expect(outputsOf(untagged, finishAndCut).intermediate.video.raster).toEqual({ width: 1440, height: 1080 });
    const { intermediate, proxy, said } = outputsOf(untagged, finishAndCut, { shape: { squeeze: rational(4, 3) } });
    expect(intermediate.video.raster).toEqual({ width: 1920, height: 1080 });
    expect(proxy.video.raster).toEqual({ width: 960, height: 540 });
    expect(said).toContain('Widened 1.33×: 1440×1080 becomes 1920×1080');
  });

  it('keeps fields in the intermediate, scaled sideways only, and deinterlaces the proxy', () => {
    const clip = sampleClip(
      {},
      {
        scan: 'top-field-first',
        rate: rational(25),
        raster: { width: 720, height: 576 },
        pixelAspect: rational(12, 11),
      },
    );
    const { intermediate, proxy } = outputsOf(clip, finishAndCut);
    expect(intermediate.video).toMatchObject({ scan: 'top-field-first', raster: { height: 576 } });
    expect(intermediate.video.steps).toEqual([{ kind: 'scale', raster: intermediate.video.raster, fieldwise: true }]);
    expect(proxy.video.scan).toBe('progressive');
    expect(proxy.video.steps[0]).toEqual({ kind: 'deinterlace', topFieldFirst: true });
  });

  it('steadies a varying rate with its duration kept, and says so', () => {
    const clip = sampleClip(
      { timecode: null, reel: null },
      {
        rateConstant: false,
        rate: rational(2944, 100),
        rateVaries: { slowest: rational(26), fastest: rational(38) },
        frames: 75,
        duration: rational(255, 100),
      },
    );
    const { proxy, said } = outputsOf(clip, finishAndCut);
    expect(proxy.video).toMatchObject({ rate: rational(30000, 1001), frames: 76 });
    expect(said).toContain('A varying rate (26.000–38.000) becomes 29.97, duration kept');
    expect(said).toContain('No timecode in the original, none written');
  });

  it('carries no label that the output rate does not have', () => {
    const clip = sampleClip({ timecode: { start: '01:00:00;00', dropFrame: true } });
    const { proxy, said } = outputsOf(clip, finishAndCut);
    expect(proxy.timecode).toBeNull();
    expect(proxy.reel).toBeNull();
    expect(said).toContain('01:00:00;00 does not exist at 23.976');
  });

  it('turns pictures upright before fitting, and brings full range to legal', () => {
    const phone = sampleClip(
      {},
      { quarterTurns: 1, colour: { primaries: null, transfer: null, matrix: null, range: 'full' } },
    );
    const { proxy, intermediate } = outputsOf(phone, finishAndCut);
    expect(intermediate.video.raster).toEqual({ width: 1080, height: 1920 });
    expect(proxy.video.raster).toEqual({ width: 540, height: 960 });
    expect(proxy.video.steps).toContainEqual({ kind: 'to-legal-range' });
    expect(proxy.video.colour).toEqual({ primaries: null, transfer: null, matrix: 'bt709', range: 'legal' });
  });

  it('refuses MXF at rates that it is not made at, before a run and not within', () => {
    const mxf = {
      ...finishAndCut,
      deliverables: finishAndCut.deliverables
        .slice(0, 1)
        .map((one) => ({ ...one, wrapper: 'mxf' as const, codec: { id: 'vc3' as const, profile: 'hqx' as const } })),
    };
    expect(planLeg(sampleClip({}, { rate: rational(15) }), mxf)).toMatchObject({
      ok: false,
      problem: { what: expect.stringContaining('MXF OP1a is not made at 15.000 pictures a second') as string },
    });
    expect(planLeg(sampleClip({}, { rate: rational(25) }), mxf).ok).toBe(true);
  });

  it('refuses what cannot be planned, with a reason and a remedy', () => {
    expect(planLeg(sampleClip({ video: null }), finishAndCut)).toMatchObject({ ok: false });
    expect(planLeg(sampleClip({}, { frames: 0 }), finishAndCut)).toMatchObject({ ok: false });
    expect(planLeg(sampleClip(), finishAndCut, { shape: { squeeze: rational(40) } })).toMatchObject({ ok: false });
    expect(planLeg(sampleClip({ stem: 'x'.repeat(260) }), finishAndCut)).toMatchObject({ ok: false });
    expect(planLeg(sampleClip({ path: '../../etc/clip.mov' }), finishAndCut)).toMatchObject({ ok: false });
  });
});

describe('many clips', () => {
  const named = (path: string): { clip: ReturnType<typeof sampleClip>; whole: string } => ({
    clip: sampleClip({ path, stem: path.replace(/^.*\//, '').replace(/\.\w+$/, '') }),
    whole: 'card',
  });

  it('refuses all that would land on one name, also where case or Unicode form is ignored', () => {
    const states = (...paths: string[]): boolean[] =>
      planBatch(paths.map(named), finishAndCut, []).map((plan) => plan.ok);
    expect(states('A/C0001.mov', 'A/C0001.mp4', 'A/C0002.mov')).toEqual([false, false, true]);
    expect(states('A/clip.mov', 'A/CLIP.mov')).toEqual([false, false]);
    expect(states('A/caf\u00e9.mov', 'A/cafe\u0301.mov')).toEqual([false, false]);
    expect(states('A/C0001.mov', 'B/C0001.mov')).toEqual([true, true]);
  });

  it('lets later rules win, field by field, where their conditions fit', () => {
    const rules = [
      { when: { roll: 'C001' }, change: { shape: { squeeze: rational(4, 3) }, identity: { reel: 'C001' } } },
      { when: { path: 'day-*/C001/*12.mov' }, change: { shape: { squeeze: rational(3, 2) } } },
    ];
    expect(correctionsFor(sampleClip({ path: 'day-1/C001/C001C012.mov' }), 'C001', rules)).toEqual({
      shape: { squeeze: rational(3, 2) },
      identity: { reel: 'C001' },
    });
    expect(correctionsFor(sampleClip(), 'A001', rules)).toEqual({});
    expect(fitsPattern('a/b/c.mov', '**/c.mov')).toBe(true);
    expect(fitsPattern('a/b/c.mov', '*/c.mov')).toBe(false);
    expect(fitsPattern('a+b.mov', 'a+b.mov')).toBe(true);
  });
});
