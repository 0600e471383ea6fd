import { describe, expect, it } from 'vitest';
import type { ClipDescription } from '../clip/description.ts';
import { sampleClip } from '../clip/sample.ts';
import type { OutputPlan } from '../recipe/legPlan.ts';
import { planLeg } from '../recipe/plan.ts';
import { finishAndCut } from '../recipe/recipe.ts';
import { unwrap } from '../result.ts';
import { rational } from '../time/rational.ts';
import { prove, type DecodedFacts } from './proof.ts';

const plan = unwrap(planLeg(sampleClip(), finishAndCut)).outputs[1] as OutputPlan;
const decoded: DecodedFacts = { frames: 72, samples: Array.from({ length: 6 }, () => 144_144), errors: [] };
const sound = { errors: [], cutShort: null };
/** The proxy as it should be found. */
const found = sampleClip(
  {},
  {
    codec: 'H.264',
    codecId: 'h264',
    profile: 'High',
    raster: { width: 960, height: 540 },
    bitDepth: 8,
    chroma: '4:2:0',
  },
);

describe('a proof', () => {
  it('holds when everything is as planned', () => {
    expect(prove(plan, found, decoded, sound)).toMatchObject({ verdict: 'proved', reasons: [] });
  });

  // Each of these is one fact wrong; a proof that passed any of them would prove nothing.
  const wrong: [string, ClipDescription, Partial<DecodedFacts>][] = [
    ['frames', found, { frames: 71 }],
    ['raster', sampleClip({}, { ...found.video, raster: { width: 960, height: 542 } }), {}],
    ['rate', sampleClip({}, { ...found.video, rate: rational(24) }), {}],
    ['pixel aspect', sampleClip({}, { ...found.video, pixelAspect: rational(4, 3) }), {}],
    ['scan', sampleClip({}, { ...found.video, scan: 'top-field-first' }), {}],
    ['codec', sampleClip({}, { ...found.video, profile: 'High 10' }), {}],
    ['chroma and depth', sampleClip({}, { ...found.video, chroma: '4:2:2' }), {}],
    ['start timecode', { ...found, timecode: { start: '10:02:11:09', dropFrame: false } }, {}],
    ['start timecode', { ...found, timecode: null }, {}],
    ['reel', { ...found, reel: 'A002' }, {}],
    [
      'transfer',
      sampleClip(
        {},
        { ...found.video, colour: { primaries: 'bt709', transfer: null, matrix: 'bt709', range: 'legal' } },
      ),
      {},
    ],
    [
      'range',
      sampleClip(
        {},
        { ...found.video, colour: { primaries: 'bt709', transfer: 'bt709', matrix: 'bt709', range: 'full' } },
      ),
      {},
    ],
    ['channels by track', { ...found, audio: found.audio.slice(1) }, {}],
    ['sample rate', { ...found, audio: found.audio.map((track) => ({ ...track, sampleRate: 44_100 })) }, {}],
    [
      'samples, track 3',
      found,
      { samples: decoded.samples.map((count, index) => (index === 2 ? count - 500 : count)) },
    ],
    ['decodes to the last frame', found, { errors: ['error while decoding'] }],
  ];
  it.each(wrong)('fails on a wrong %s', (name, description, facts) => {
    const proof = prove(plan, description, { ...decoded, ...facts }, sound);
    expect(proof.verdict).toBe('failed');
    expect(proof.comparisons.filter((comparison) => !comparison.holds).map((comparison) => comparison.name)).toContain(
      name,
    );
  });

  it('asks for eyes when the original itself is cut short, and says what is missing', () => {
    const short = sampleClip({}, { ...found.video, frames: 40, duration: rational(40 * 1001, 24000) });
    const proof = prove(
      plan,
      short,
      { ...decoded, frames: 40, samples: decoded.samples.map(() => 80_080) },
      { errors: ['partial file'], cutShort: '1.2 MB are missing' },
    );
    expect(proof.verdict).toBe('needs eyes');
    expect(proof.reasons.join(' ')).toContain('32 of 72 frames are missing');
    // A damaged original excuses missing frames, not another raster.
    expect(
      prove(
        plan,
        sampleClip({}, { ...short.video, raster: { width: 962, height: 540 } }),
        { ...decoded, frames: 40 },
        { errors: ['partial file'], cutShort: null },
      ).verdict,
    ).toBe('failed');
  });
});
