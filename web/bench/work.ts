import { measure, pictureColours } from '@relay/core/colour/bake/error';
import { bakeCube } from '@relay/core/colour/bake/bake';
import type { Shaper } from '@relay/core/colour/bake/shaper';
import { planChain } from '@relay/core/colour/chain/plan';
import { readLutFile } from '@relay/core/colour/lut/file';
import { applyCube, signalsOf } from '@relay/core/colour/lut/image';
import type { LutFile } from '@relay/core/colour/lut/read';
import { compile, evaluate } from '@relay/core/colour/ops/compile';
import { colourState } from '@relay/core/colour/states';
import { highestShown, lowestShown, scopesOf } from '@relay/core/measure/scopes';
import type { BakedAnswer, CubeData, FrameData, MeasuredAnswer, PictureAnswer, Question } from './messages.ts';

/** Signals that a bake for the bench covers: all that a file's codes hold. */
const span = highestShown - lowestShown;
const overAllCodes: Shaper = {
  kind: 'none',
  domain: [lowestShown, highestShown],
  forward: (x) => (x - lowestShown) / span,
  back: (x) => lowestShown + x * span,
  ops: [],
};

/** LUT files that were read already, by their hash. */
const read = new Map<string, LutFile>();

function bakeForBench({ chain, luts, points }: Extract<Question, { kind: 'bake' }>): BakedAnswer {
  const none = { cube: null, steps: [], output: null, error: null, neutral: [] };
  for (const [hash, { text, fileName }] of Object.entries(luts)) {
    if (read.has(hash)) continue;
    const file = readLutFile(text, fileName);
    if (!file.ok) return { ...none, problem: { ...file.problem, what: `${fileName}: ${file.problem.what}` } };
    read.set(hash, file.value);
  }
  const planned = planChain(chain, (hash) => read.get(hash) ?? null);
  if (!planned.ok) return { ...none, problem: planned.problem };
  const { ops, steps, output } = planned.value;
  const transform = compile(ops);
  const input = chain.input ? colourState(chain.input) : null;
  const stops = steps.map(({ kind, id, name, note }) => ({ kind, id, name, note }));
  const neutral = Array.from({ length: 129 }, (_, i) => evaluate(transform, [i / 128, i / 128, i / 128])[1]);
  if (ops.length === 0) return { ...none, steps: stops, output: output?.name ?? null, problem: null, neutral };
  const { size, values } = bakeCube(transform, points, overAllCodes);
  const cube: CubeData = {
    size,
    values,
    domainMin: [lowestShown, lowestShown, lowestShown],
    domainMax: [highestShown, highestShown, highestShown],
  };
  const baked = compile([{ op: 'lut3d', reverse: false, interpolation: 'tetrahedral', lut: cube }]);
  const error = measure(
    transform,
    baked,
    pictureColours(input?.ok ? input.value : null, output, 6000, 20_261_123),
    output,
  );
  return { cube, steps: stops, output: output?.name ?? null, error, problem: null, neutral };
}

/** Samples measured at most along a picture's width. */
const measuredAcross = 640;

function measureBoth(frame: FrameData, cube: CubeData | null): MeasuredAnswer {
  const step = Math.max(1, Math.ceil(frame.width / measuredAcross));
  const before = signalsOf(frame.planes, frame.width, frame.height, frame.matrix, step);
  const across = Math.ceil(frame.width / step);
  return { before: scopesOf(before, across), after: scopesOf(cube ? applyCube(cube, before) : before, across) };
}

function pixels(signals: Float32Array): Uint8ClampedArray {
  const out = new Uint8ClampedArray((signals.length / 3) * 4);
  for (let i = 0, to = 0; i < signals.length; i += 3, to += 4) {
    out[to] = (signals[i] as number) * 255;
    out[to + 1] = (signals[i + 1] as number) * 255;
    out[to + 2] = (signals[i + 2] as number) * 255;
    out[to + 3] = 255;
  }
  return out;
}

function drawBoth(frame: FrameData, cube: CubeData | null): PictureAnswer {
  const before = signalsOf(frame.planes, frame.width, frame.height, frame.matrix);
  return { before: pixels(before), after: pixels(cube ? applyCube(cube, before) : before) };
}

/** What the worker does with a question; apart from the worker itself, so that it can be tested. */
export function answer(question: Question): unknown {
  switch (question.kind) {
    case 'bake':
      return bakeForBench(question);
    case 'measure':
      return measureBoth(question.frame, question.cube);
    case 'picture':
      return drawBoth(question.frame, question.cube);
    case 'triplets':
      return applyCube(question.cube, question.values);
  }
}
